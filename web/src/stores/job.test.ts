// The open job: changes are seen at once and saved one after the other; undo waits for them; nobody overwrites anybody.
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Step } from '@noble-prism/core/steps/kinds';
import { FakeEvents, FakeServer } from '../testing/fakeServer.ts';
import { useJob } from './job.ts';

const uploads: { file: File; finish(): void; fail(error: Error): void; cancelled: boolean }[] = [];
vi.mock('../api/upload.ts', () => ({
  upload: (_job: string, file: File) => {
    let settle = { finish: () => {}, fail: (_: Error) => {} };
    const done = new Promise<void>((resolve, reject) => (settle = { finish: resolve, fail: reject }));
    const entry = { file, ...settle, cancelled: false };
    uploads.push(entry);
    const cancel = () => {
      entry.cancelled = true;
      entry.fail(Object.assign(new Error('cancelled'), { name: 'AbortError' }));
    };
    return { done, cancel };
  },
}));

let server: FakeServer;
let store: ReturnType<typeof useJob>;
const step = (id: string): Step => ({
  id,
  kind: 'rename',
  on: true,
  selector: { by: 'all' },
  parameters: { name: id, of: 'parts' },
});
const adding = (id: string) => (steps: Step[]) => [...steps, step(id)];
const ids = (steps: readonly Step[]) => steps.map(({ id }) => id).join(' ');
const settled = () => vi.waitFor(() => expect(store.saving).toBe(0));

beforeEach(async () => {
  setActivePinia(createPinia());
  server = new FakeServer();
  uploads.length = 0;
  vi.stubGlobal('fetch', server.fetch);
  vi.stubGlobal('EventSource', FakeEvents);
  store = useJob();
  await store.open('j');
  server.log.length = 0;
});
afterEach(() => {
  store.leave();
  vi.unstubAllGlobals();
});

describe('saving', () => {
  it('shows a change at once, and saves quick changes one after the other, each on top of the one before', async () => {
    let open = () => {};
    server.gate = new Promise((resolve) => (open = resolve));
    store.change('a added', adding('a'));
    store.change('b added', adding('b'));
    expect(ids(store.steps)).toBe('a b');
    expect(store.saving).toBe(2);
    open();
    await settled();
    expect(server.log).toEqual(['POST versions on 1', 'POST versions on 2']);
    expect(server.versions.map(({ steps, note }) => `${note}: ${ids(steps)}`)).toEqual([
      'New job: ',
      'a added: a',
      'b added: a b',
    ]);
    expect(ids(store.steps)).toBe('a b');
  });

  it('that the server refuses is said, and what the server has is shown', async () => {
    server.refusing = { status: 422, code: 'bad-parameters', message: 'The name must not be empty.' };
    store.change('a added', adding('a'));
    await settled();
    await vi.waitFor(() => expect(ids(store.steps)).toBe(''));
    expect(store.error?.message).toContain('must not be empty');
    server.refusing = undefined;
    store.change('b added', adding('b'));
    await settled();
    expect(ids(server.job.version.steps)).toBe('b');
  });

  it('is refused where somebody else saved first; theirs stays, and ours can be made again on top', async () => {
    server.append({ note: 'theirs', steps: [step('theirs')] });
    store.change('mine', adding('mine'));
    await settled();
    await vi.waitFor(() => expect(store.conflict).toBeDefined());
    expect(store.conflict).toMatchObject({ note: 'mine', current: 2 });
    await vi.waitFor(() => expect(ids(store.steps)).toBe('theirs'));
    expect(server.versions).toHaveLength(2);
    store.mergeConflict();
    await settled();
    expect(ids(server.job.version.steps)).toBe('theirs mine');
    expect(store.conflict).toBeUndefined();
  });
});

describe('undo and redo', () => {
  it('wait for changes that are being saved: two quick strokes are two versions back', async () => {
    for (const id of ['a', 'b', 'c']) store.change(id, adding(id));
    const first = store.move('undo');
    const second = store.move('undo');
    await Promise.all([first, second]);
    expect(server.current).toBe(2);
    expect(ids(store.steps)).toBe('a');
    await store.move('redo');
    expect(ids(store.steps)).toBe('a b');
    expect(server.log.filter((line) => /undo|redo/.test(line))).toEqual([
      'POST undo on 4',
      'POST undo on 3',
      'POST redo on 2',
    ]);
  });

  it('do nothing at either end', async () => {
    await store.move('undo');
    await store.move('redo');
    expect(server.current).toBe(1);
    expect(store.error).toBeUndefined();
  });

  it('after a change goes on from there, and keeps the other way', async () => {
    store.change('a', adding('a'));
    await store.move('undo');
    store.change('b', adding('b'));
    await settled();
    expect(server.versions.map(({ number, parent }) => [number, parent])).toEqual([
      [1, null],
      [2, 1],
      [3, 1],
    ]);
    expect(store.canRedo).toBe(false);
  });
});

describe('events', () => {
  it('of a changed job fetch it anew, unless the answer to a save of our own is on its way', async () => {
    server.append({ note: 'theirs', steps: [step('theirs')] });
    FakeEvents.latest.says({ type: 'job', job: 'j' });
    await vi.waitFor(() => expect(ids(store.steps)).toBe('theirs'));
  });

  it('of tasks are kept, newest state by task, and end what was open', () => {
    const task = { type: 'task', job: 'j', task: '7', kind: 'evaluate' } as const;
    FakeEvents.latest.says({ ...task, state: 'running', progress: { what: 'Tessellate Bolt', done: 1, total: 4 } });
    expect(store.openTasks).toMatchObject([{ id: '7', progress: { what: 'Tessellate Bolt' } }]);
    FakeEvents.latest.says({ ...task, state: 'running' });
    expect(store.openTasks[0].progress).toMatchObject({ done: 1 });
    FakeEvents.latest.says({ ...task, state: 'done' });
    expect(store.openTasks).toEqual([]);
  });

  it('that stopped are said, and asked for again when they come back', async () => {
    const { latest } = FakeEvents;
    latest.happens('open');
    latest.onerror?.();
    expect(store.offline).toBe(true);
    server.append({ note: 'meanwhile', steps: [step('meanwhile')] });
    latest.happens('open');
    expect(store.offline).toBe(false);
    await vi.waitFor(() => expect(ids(store.steps)).toBe('meanwhile'));
  });

  it('end with the job', () => {
    const { latest } = FakeEvents;
    store.leave();
    expect(latest.closed).toBe(true);
    expect(store.job).toBeUndefined();
  });
});

describe('receiving', () => {
  const drop = (...paths: string[]) =>
    store.receive(paths.map((path) => ({ path, file: new File(['solid x'], path.split('/').at(-1)!) })));
  const sent = () => uploads.map(({ file }) => file.name);

  it('sends one after the other, in the order of the drop, and says what of a folder was left', async () => {
    const all = drop('b.stl', 'set/a.stl', 'set/notes.txt');
    await vi.waitFor(() => expect(sent()).toEqual(['b.stl']));
    expect(store.uploads.map(({ name }) => name)).toEqual(['b.stl', 'a.stl']);
    expect(store.ignored).toEqual(['set/notes.txt']);
    uploads[0].finish();
    await vi.waitFor(() => expect(sent()).toEqual(['b.stl', 'a.stl']));
    uploads[1].finish();
    await all;
    expect(store.uploads).toEqual([]);
  });

  it('goes on with the next where one fails, and says which', async () => {
    const all = drop('a.stl', 'b.stl');
    await vi.waitFor(() => expect(uploads).toHaveLength(1));
    uploads[0].fail(new Error('a.stl could not be sent.'));
    await vi.waitFor(() => expect(uploads).toHaveLength(2));
    expect(store.error?.message).toBe('a.stl could not be sent.');
    uploads[1].finish();
    await all;
  });

  it('drops what was cancelled, whether it was being sent or still waited', async () => {
    const all = drop('a.stl', 'b.stl', 'c.stl');
    await vi.waitFor(() => expect(uploads).toHaveLength(1));
    store.uploads[1].cancel();
    store.uploads[0].cancel();
    await vi.waitFor(() => expect(sent()).toEqual(['a.stl', 'c.stl']));
    expect(uploads[0].cancelled).toBe(true);
    expect(store.error).toBeUndefined();
    uploads[1].finish();
    await all;
  });
});
