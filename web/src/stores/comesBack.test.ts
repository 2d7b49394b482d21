// A page that comes back after a night: the connection was lost, others went on, work was done meanwhile. It shows what is, and loses nothing.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { Task } from '@noble-prism/wire/task';
import { FakeEvents } from '../testing/fakeServer.ts';
import { openJob, step, unmountAll } from '../testing/mountBench.ts';
import type { OpenJob } from '../testing/mountBench.ts';
import { useSelection } from './selection.ts';

const rename = (id: string, name: string) =>
  step(id, 'rename', { by: 'name', pattern: 'Motor' }, { name, of: 'parts' });
const task = (id: string, state: Task['state']): Task =>
  ({ id, kind: 'transmit', state, progress: null, error: null, result: null }) as Task;

let job: OpenJob;
const names = () => job.store.scene.nodes.map(({ name }) => name);
const keyOf = (name: string) => job.store.scene.nodes.key(names().indexOf(name));

beforeEach(async () => {
  job = await openJob([
    { name: 'Motor', mesh: boxMesh(1, 1, 1) },
    { name: 'Guard', mesh: boxMesh(2, 1, 1) },
  ]);
});
afterEach(unmountAll);

function asleep(): void {
  FakeEvents.latest.happens('open');
  FakeEvents.latest.onerror?.();
}

describe('a page that comes back', () => {
  it('says while it is away that it is, and then shows what others made of the job; what is selected stays', async () => {
    asleep();
    expect(job.store.offline).toBe(true);
    useSelection().pick([keyOf('Guard')]);
    job.server.append({ note: 'theirs', steps: [rename('theirs', 'Engine')] });
    FakeEvents.latest.happens('open');
    await vi.waitFor(() => expect(names()).toEqual(['Engine', 'Guard']));
    expect(job.store.offline).toBe(false);
    expect(useSelection().nodes.map(({ name }) => name)).toEqual(['Guard']);
    expect(job.store.canUndo).toBe(true);
  });

  it('is told what was done meanwhile: a delivery that it waited for is no longer under way', async () => {
    job.server.tasks = [task('7', 'running')];
    FakeEvents.latest.happens('resync');
    await vi.waitFor(() => expect(job.store.openTasks.map(({ id }) => id)).toEqual(['7']));
    asleep();
    job.server.tasks = [task('7', 'done')];
    FakeEvents.latest.happens('open');
    await vi.waitFor(() => expect(job.store.openTasks).toEqual([]));
  });

  it('with a change that was made before it knew, is refused, keeps it, and makes it on top when that is asked for', async () => {
    asleep();
    job.server.append({ note: 'theirs', steps: [rename('theirs', 'Engine')] });
    job.store.change('mine', (steps) => [...steps, step('mine', 'leave-out', { by: 'name', pattern: 'Guard' }, {})]);
    await vi.waitFor(() => expect(job.store.conflict).toMatchObject({ note: 'mine' }));
    await vi.waitFor(() => expect(names()).toEqual(['Engine', 'Guard']));
    job.store.mergeConflict();
    await job.settled();
    expect(names()).toEqual(['Engine']);
    expect(job.server.versions.at(-1)).toMatchObject({ note: 'mine', steps: [{ id: 'theirs' }, { id: 'mine' }] });
  });

  it('before a server that does not answer yet says so, and shows the job as it was until it does', async () => {
    asleep();
    const answers = globalThis.fetch;
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('fetch failed')));
    FakeEvents.latest.happens('resync');
    await vi.waitFor(() => expect(job.store.error?.message).toContain('does not answer'));
    expect(names()).toEqual(['Motor', 'Guard']);
    vi.stubGlobal('fetch', answers);
    job.server.append({ note: 'theirs', steps: [rename('theirs', 'Engine')] });
    FakeEvents.latest.happens('resync');
    await vi.waitFor(() => expect(names()).toEqual(['Engine', 'Guard']));
  });

  it('asks once, however often the connection came and went', async () => {
    FakeEvents.latest.happens('open');
    for (let i = 0; i < 20; i++) {
      FakeEvents.latest.onerror?.();
      FakeEvents.latest.happens('open');
    }
    await vi.waitFor(() => expect(job.server.log.length).toBeGreaterThan(0));
    await new Promise((resolve) => setTimeout(resolve, 150));
    expect(job.server.log).toEqual(['GET j']);
  });
});
