// The server cannot be reached for a while: what is done meanwhile is kept in its order, undone and redone, and saved when it is back.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { watch } from 'vue';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { FakeEvents } from '../testing/fakeServer.ts';
import { openJob, step, unmountAll } from '../testing/mountBench.ts';
import type { OpenJob } from '../testing/mountBench.ts';

const move = (id: string) => step(id, 'move', { by: 'name', pattern: 'Motor' }, { x: 1, y: 0, z: 0 });
const adding = (id: string) => (steps: Parameters<Parameters<OpenJob['store']['change']>[1]>[0]) => [
  ...steps,
  move(id),
];
const ids = (steps: readonly { id: string }[]) => steps.map(({ id }) => id).join(' ');

let job: OpenJob;
beforeEach(async () => {
  job = await openJob([{ name: 'Motor', mesh: boxMesh(1, 1, 1) }]);
});
afterEach(unmountAll);

/** Three moves while nothing goes through. */
async function away(): Promise<void> {
  job.server.failing = Infinity;
  FakeEvents.latest.onerror?.();
  for (const id of ['a', 'b', 'c']) job.store.change(`${id} moved`, adding(id));
  await vi.waitFor(() => expect(job.store.unsaved).toBe(3));
}
async function back(): Promise<void> {
  job.server.failing = 0;
  FakeEvents.latest.happens('open');
  await vi.waitFor(() => expect(job.store.saving).toBe(0));
}
const notes = () => job.server.versions.slice(2).map(({ note }) => note);

describe('what is done while the server is away', () => {
  it('stays on the screen, is counted, and is saved in its order', async () => {
    await away();
    expect(ids(job.store.steps)).toBe('a b c');
    expect(job.store.error).toBeUndefined();
    await back();
    expect(notes()).toEqual(['a moved', 'b moved', 'c moved']);
    expect([job.store.unsaved, ids(job.store.steps), ids(job.server.job.version.steps)]).toEqual([0, 'a b c', 'a b c']);
  });

  it('is called saved when the last of it is, not the first', async () => {
    await away();
    const seen: number[] = [];
    watch(
      () => job.store.unsaved,
      (count) => seen.push(count),
      { flush: 'sync' },
    );
    await back();
    expect(seen).toEqual([2, 1, 0]);
  });

  it('is undone and redone before it is saved, and then goes out as it is', async () => {
    await away();
    await job.store.move('undo');
    await job.store.move('undo');
    expect([ids(job.store.steps), job.store.canRedo]).toEqual(['a', true]);
    await job.store.move('redo');
    expect(ids(job.store.steps)).toBe('a b');
    job.store.change('d moved', adding('d'));
    // What was done anew takes the place of what was undone.
    expect(job.store.canRedo).toBe(false);
    await back();
    expect(notes()).toEqual(['a moved', 'b moved', 'd moved']);
  });

  it('is offered for merging, all of it, where others went on meanwhile', async () => {
    await away();
    job.server.append({ note: 'theirs', steps: [move('t')] });
    await back();
    await vi.waitFor(() => expect(job.store.conflict).toMatchObject({ note: 'a moved and 2 more', current: 3 }));
    await vi.waitFor(() => expect(ids(job.store.steps)).toBe('t'));
    job.store.mergeConflict();
    await vi.waitFor(() => expect(ids(job.server.job.version.steps)).toBe('t a b c'));
    expect(notes()).toEqual(['theirs', 'a moved and 2 more']);
  });

  it('is not saved twice where the server took it and only its answer was lost', async () => {
    job.server.losing = 1;
    job.store.change('a moved', adding('a'));
    await vi.waitFor(() => expect(job.store.unsaved).toBe(1));
    await back();
    expect(notes()).toEqual(['a moved']);
    expect(job.store.conflict).toBeUndefined();
    expect(ids(job.store.steps)).toBe('a');
  });

  it('is said to be lost where the job was deleted meanwhile', async () => {
    await away();
    job.server.refusing = { status: 404, code: 'not-found', message: 'There is no such job.' };
    await back();
    expect(job.store.error?.message).toBe('This job was deleted meanwhile; 3 changes were not saved.');
  });

  it('is not sent as if it were saved', async () => {
    await away();
    await job.store.send({ targets: [], name: 'Job' } as never);
    expect(job.store.error?.message).toContain('not saved yet, and nothing was sent');
    expect(job.server.log.some((line) => line.includes('transmittals'))).toBe(false);
  });

  it('is tried again by itself, where nothing tells that the server is back', async () => {
    vi.useFakeTimers();
    try {
      job.server.failing = 2;
      job.store.change('a moved', adding('a'));
      await vi.advanceTimersByTimeAsync(7000);
      expect(notes()).toEqual(['a moved']);
    } finally {
      vi.useRealTimers();
    }
  });
});
