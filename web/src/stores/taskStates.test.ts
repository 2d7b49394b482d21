// Answers of the server and its events come on two ways: what is known must never go back.
import { describe, expect, it } from 'vitest';
import type { Task } from '@noble-prism/wire/task';
import { isNews, withNewerStates } from './taskStates.ts';

const task = (id: string, state: Task['state'], kind: Task['kind'] = 'evaluate'): Task => ({
  id,
  kind,
  state,
  progress: null,
  error: null,
  result: null,
});
const states = (tasks: Task[]) => tasks.map(({ id, state }) => `${id} ${state}`);

describe('what is known of the tasks', () => {
  it('does not go back from an end that was heard before the answer came', () => {
    expect(states(withNewerStates([task('7', 'queued')], [task('7', 'done')]))).toEqual(['7 done']);
    expect(states(withNewerStates([task('7', 'running')], [task('7', 'cancelled')]))).toEqual(['7 cancelled']);
  });

  it('goes on to what the answer says', () => {
    expect(states(withNewerStates([task('7', 'done')], [task('7', 'running')]))).toEqual(['7 done']);
    expect(states(withNewerStates([task('8', 'failed')], []))).toEqual(['8 failed']);
  });

  it('keeps an open task that is newer than the answer, and lets ended ones go', () => {
    expect(
      states(withNewerStates([task('7', 'done')], [task('9', 'queued'), task('10', 'done'), task('3', 'running')])),
    ).toEqual(['7 done', '9 queued']);
  });
});

describe('an event', () => {
  it.each([
    [undefined, 'queued', true],
    [undefined, 'done', true],
    ['queued', 'running', true],
    // A worker that crashed gives it back.
    ['running', 'queued', true],
    ['running', 'done', true],
    // A quick worker was through before others were told that it waited.
    ['done', 'queued', false],
    ['done', 'running', false],
    ['cancelled', 'running', false],
    ['cancelled', 'done', true],
  ] as const)('after %s that says %s is news: %s', (known, state, news) => expect(isNews(known, state)).toBe(news)); // prettier-ignore
});
