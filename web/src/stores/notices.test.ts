// Errors stay until they are read; the same one again is one line with a count.
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import { useNotices } from './notices.ts';

beforeEach(() => setActivePinia(createPinia()));

it('counts what happens again, the latest first, and forgets what was read', () => {
  const notices = useNotices();
  notices.say({ summary: 'drive.stp', detail: 'It is no STEP file.' });
  notices.say({ summary: 'wall.ifc', detail: 'It is cut off.' });
  notices.say({ summary: 'drive.stp', detail: 'It is no STEP file.' });
  expect(notices.list.map(({ summary, times }) => [summary, times])).toEqual([
    ['drive.stp', 2],
    ['wall.ifc', 1],
  ]);
  notices.read(notices.list[0].id);
  expect(notices.list.map(({ summary }) => summary)).toEqual(['wall.ifc']);
});

it('keeps so many and no more', () => {
  const notices = useNotices();
  for (let i = 0; i < 200; i++) notices.say({ summary: `file ${i}`, detail: 'Broken.' });
  expect(notices.list).toHaveLength(50);
  expect(notices.list[0].summary).toBe('file 199');
});
