import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import type { Job } from '@noble-prism/wire/job';
import type { Task } from '@noble-prism/wire/task';
import { useExact } from './exact.ts';
import { useJob } from './job.ts';

const server = vi.hoisted(() => ({ asked: [] as string[][] }));
vi.mock('../evaluation/client.ts', () => ({ EvaluationClient: class { open() {} send() {} } })); // prettier-ignore
vi.mock('../api/client.ts', () => ({
  SOLIDS_AT_ONCE: 2,
  api: {
    exact: async (_: string, solids: string[]) => ({ task: String(server.asked.push(solids)) }),
  },
  fetchBlob: async (hash: string) => new TextEncoder().encode(JSON.stringify({ faces: [], circles: [], area: Number(hash) })), // prettier-ignore
}));

beforeEach(() => {
  setActivePinia(createPinia());
  server.asked = [];
});

const task = (id: string, state: Task['state'], shapes: object): Task => ({ id, kind: 'exact', state, progress: null, error: null, result: { shapes } }); // prettier-ignore
const settle = () => new Promise((done) => setTimeout(done, 60));

it('asks one question at a time, the latest first, and again for what nobody came to', async () => {
  const job = useJob();
  job.job = { id: 'j', tasks: [] } as unknown as Job;
  const exact = useExact();
  for (const solid of ['a', 'b', 'c']) expect(exact.shapeOf(solid)).toBeUndefined();
  await settle();
  // A second question would take the place of the first.
  expect(server.asked).toEqual([['b', 'c']]);
  job.job = { ...job.job, tasks: [task('1', 'done', { b: { shape: '7' }, c: { failed: 'not readable' } })] };
  await nextTick();
  await settle();
  expect(exact.shapeOf('b')?.area).toBe(7);
  expect(exact.arrivals).toBe(1);
  expect(server.asked).toEqual([['b', 'c'], ['a']]);
  // Somebody else's question took its place.
  job.job = { ...job.job, tasks: [task('2', 'cancelled', {})] };
  await nextTick();
  exact.shapeOf('a');
  // What could not be read is not asked for again.
  exact.shapeOf('c');
  await settle();
  expect(server.asked).toEqual([['b', 'c'], ['a'], ['a']]);
});
