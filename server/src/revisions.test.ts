/** Revisions: a newer file in the place of an older one, with all that the steps say of it; and versions that take little room. */
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { evaluateNow } from '@noble-prism/core/preparation/evaluate';
import { factsOf } from '@noble-prism/core/scene/facts';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import { StepText } from '@noble-prism/core/testing/stepText';
import { TestServer } from './testing.ts';
import type { TestJob } from './testing.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
}, 60_000);
afterAll(() => server.stop());

/** A frame with some bolts; a later revision has others. */
function frame(...parts: [name: string, size: number][]): Uint8Array {
  const step = new StepText();
  const top = step.product('Frame');
  parts.forEach(([name, size], i) =>
    step.place(top, step.product(name, [step.tetrahedron(size).solid]), step.axis([i * 50, 0, 0])),
  );
  return step.bytes();
}

const done = ({ version, tasks, sources }: TestJob) =>
  sources.every(({ state }) => state !== 'reading') &&
  tasks.some(
    ({ kind, state, result }) => kind === 'evaluate' && state === 'done' && result?.version === version.number,
  );

async function received(bytes: Uint8Array): Promise<TestJob> {
  const job = await server.makeJob('Revisions');
  await server.upload(job.id, 'frame.stp', bytes);
  return server.until(job.id, done);
}

async function sceneOf({ version, sources }: TestJob) {
  const shown = version.sources.map((id) => sources.find((source) => source.id === id)!);
  return mergeSlots(
    await Promise.all(shown.map(async ({ slot, scene }) => ({ slot, scene: await server.scene(String(scene)) }))),
  );
}

const save = (job: TestJob, steps: object[]) =>
  server.call<TestJob>('POST', `/api/jobs/${job.id}/versions`, {
    base: job.version.number,
    note: 'Test',
    steps,
    sources: job.version.sources,
  });

describe('a new revision', () => {
  it('takes the place of the one before: a picked part is the same part, and what is gone is lost by name; undo takes it back', async () => {
    const first = await received(frame(['Bolt', 3], ['Cover', 7]));
    const [{ slot }] = first.sources;
    const keys = [`${slot}:/Frame/Bolt`, `${slot}:/Frame/Cover`];
    const rename = { id: 'r', kind: 'rename', on: true, selector: { by: 'picked', keys }, parameters: { name: 'Mine', of: 'parts' } }; // prettier-ignore
    const saved = (await save(first, [...first.version.steps, rename])).body;
    await server.upload(first.id, 'frame.stp', frame(['Bolt', 4], ['Lever', 5]), slot);
    const second = await server.until(first.id, (job) => done(job) && job.version.number > saved.version.number);
    expect(second.sources.map((source) => [source.slot, source.revision])).toEqual([[slot, 1], [slot, 2]]); // prettier-ignore
    expect(second.version).toMatchObject({ sources: [second.sources[1].id], note: 'Revision 2 of frame.stp' });
    expect(second.version.steps).toEqual(saved.version.steps);
    const scene = await sceneOf(second);
    const facts = factsOf(scene);
    expect(scene.nodes.row(facts.rowOf(keys[0])!).name).toBe('Bolt');
    expect(facts.rowOf(keys[1])).toBeUndefined();
    const back = await server.call<TestJob>('POST', `/api/jobs/${first.id}/undo`, { base: second.version.number });
    expect(back.body.version.sources).toEqual(first.version.sources);
  });

  it('keeps what was decided of parts of one name with those that it was decided of, and what is gone is gone', async () => {
    const bolts = (...sizes: number[]) => frame(...sizes.map((size): [string, number] => ['Bolt', size]));
    const first = await received(bolts(3, 4, 5, 6));
    const [{ slot }] = first.sources;
    const key = (ordinal: number) => `${slot}:/Frame/Bolt${ordinal > 1 ? `#${ordinal}` : ''}`;
    const pick = (id: string, kind: string, ordinal: number, parameters: object) => ({ id, kind, on: true, selector: { by: 'picked', keys: [key(ordinal)] }, parameters }); // prettier-ignore
    const steps = [
      pick('a', 'rename', 1, { name: 'First', of: 'parts' }),
      pick('b', 'rename', 2, { name: 'Second', of: 'parts' }),
      pick('c', 'leave-out', 4, {}),
    ];
    const saved = (await save(first, [...first.version.steps, ...steps])).body;
    const before = await sceneOf(saved);
    const solidOf = (scene: typeof before, ordinal: number) => {
      const row = factsOf(scene).rowOf(key(ordinal));
      return row === undefined ? undefined : scene.nodes.word('solid', row);
    };
    const was = [1, 2, 3, 4].map((ordinal) => solidOf(before, ordinal));
    expect(new Set(was).size).toBe(4);
    // The first is gone, the others stand in another order, and one is new.
    await server.upload(first.id, 'frame.stp', bolts(6, 9, 5, 4), slot);
    const second = await server.until(first.id, (job) => done(job) && job.version.number > saved.version.number);
    const after = await sceneOf(second);
    expect([1, 2, 3, 4].map((ordinal) => solidOf(after, ordinal))).toEqual([undefined, ...was.slice(1)]);
    expect(was).not.toContain(solidOf(after, 5));
    // The step about the first finds it no more, and says so; the others find theirs.
    const { reports } = evaluateNow(after, 'k', checkSteps(second.version.steps), () => undefined);
    expect(reports.slice(-3).map(({ lost }) => lost)).toEqual([[key(1)], [], []]);
    // Made again from the files received, of which the first scene is lost too, they are the same rows.
    const lost = second.sources.map(({ scene }) => String(scene));
    for (const hash of lost) await rm(join(server.dataDir, 'blobs', hash.slice(0, 2), hash.slice(2)), { force: true });
    await server.call('POST', `/api/jobs/${first.id}/evaluate`);
    const is = (hash: string) => fetch(`${server.url}/api/blobs/${hash}`).then(({ status }) => status === 200);
    await vi.waitFor(async () => expect(await is(lost[1])).toBe(true), { timeout: 30_000, interval: 200 });
  });

  it('that cannot be read leaves the one before where it is', async () => {
    const first = await received(frame(['Bolt', 3]));
    await server.upload(first.id, 'frame.stp', new TextEncoder().encode('ISO-10303-21; this is none'), first.sources[0].slot); // prettier-ignore
    const after = await server.until(first.id, ({ sources }) => sources.some(({ state }) => state === 'failed'));
    expect(after.version.sources).toEqual(first.version.sources);
    expect(after.sources[1]).toMatchObject({ revision: 2, state: 'failed' });
  });

  it('that is a zip of several models goes by their names: revisions of two sources, and a source of its own', async () => {
    const job = await server.makeJob('Deliveries');
    const models = (size: number, ...names: string[]) => zipSync(Object.fromEntries(names.map((name) => [name, frame([`Bolt of ${name}`, size])]))); // prettier-ignore
    await server.upload(job.id, 'A.zip', models(3, 'frame.stp', 'cover.stp'));
    const first = await server.until(job.id, (state) => done(state) && state.sources.length === 2);
    const slots = new Map(first.sources.map(({ name, slot }) => [name, slot]));
    await server.upload(job.id, 'B.zip', models(4, 'B/cover.stp', 'B/frame.stp', 'B/lever.stp'), slots.get('frame.stp')); // prettier-ignore
    const second = await server.until(job.id, (state) => done(state) && state.sources.length === 5);
    const shown = second.version.sources.map((id) => second.sources.find((source) => source.id === id)!);
    expect(shown.map(({ name, slot, revision }) => [name, slot === slots.get(name), revision])).toEqual([
      ['frame.stp', true, 2],
      ['cover.stp', true, 2],
      ['lever.stp', false, 1],
    ]);
  });

  it('that is a zip of models with other names changes nothing, and says which one is missed', async () => {
    const first = await received(frame(['Bolt', 3]));
    const zip = zipSync({ 'one.stp': frame(['Bolt', 4]), 'two.stp': frame(['Bolt', 5]) });
    await server.upload(first.id, 'new.zip', zip, first.sources[0].slot);
    const after = await server.until(first.id, ({ sources }) => sources.some(({ state }) => state === 'failed'));
    expect(after.version.sources).toEqual(first.version.sources);
    expect(after.sources).toHaveLength(2);
    expect(after.sources[1].error?.message).toMatch(/one\.stp, two\.stp.*none is called like frame\.stp/);
  });

  it('of a source that is not in the job is a source of its own', async () => {
    const job = await server.makeJob();
    await server.upload(job.id, 'frame.stp', frame(['Bolt', 3]), 'nowhere');
    const after = await server.until(job.id, done);
    expect(after.sources).toMatchObject([{ slot: after.sources[0].id, revision: 1 }]);
    expect(after.version.sources).toHaveLength(1);
  });
});

describe('a stored scene', () => {
  it('that was deleted by hand is made again from the file received', async () => {
    const job = await received(frame(['Bolt', 3], ['Cover', 7]));
    const [{ scene }] = job.sources;
    await rm(join(server.dataDir, 'blobs', scene!.slice(0, 2), scene!.slice(2)), { force: true });
    expect((await fetch(`${server.url}/api/blobs/${scene}`)).status).toBe(404);
    await server.call('POST', `/api/jobs/${job.id}/evaluate`);
    await vi.waitFor(async () => expect((await fetch(`${server.url}/api/blobs/${scene}`)).status).toBe(200), {
      timeout: 30_000,
      interval: 200,
    });
    const mended = await server.job(job.id);
    expect((await sceneOf(mended)).nodes.length).toBe(3);
  });

  it('and shapes that were deleted with it are computed again', async () => {
    const job = await received(frame(['Bolt', 3.25], ['Cover', 7.25]));
    const evaluations = ({ tasks }: TestJob) => Math.max(...tasks.filter(({ kind, state }) => kind === 'evaluate' && state === 'done').map(({ id }) => Number(id))); // prettier-ignore
    await rm(join(server.dataDir, 'blobs'), { recursive: true, force: true });
    // The file itself is given back, as from a backup.
    await server.upload(job.id, 'frame.stp', frame(['Bolt', 3.25], ['Cover', 7.25]));
    const mended = await server.until(job.id, (state) => done(state) && state.sources.length === 2 && evaluations(state) > evaluations(job) && state.sources.every(({ scene }) => scene !== null)); // prettier-ignore
    const { counts } = mended.tasks.findLast(({ kind }) => kind === 'evaluate')?.result as {
      counts: { worked: number };
    };
    expect(counts.worked).toBe(2);
  });

  it('of another version of the program is made again too', async () => {
    const job = await received(frame(['Bolt', 3]));
    const [{ scene, blob }] = job.sources;
    // What an older program stored was JSON; a STEP text is as far from a scene as that.
    await server.query(`update sources set scene = '${blob}' where job = '${job.id}'`);
    await server.call('POST', `/api/jobs/${job.id}/evaluate`);
    const mended = await server.until(job.id, (state) => state.sources[0].scene === scene);
    expect(mended.sources[0].state).toBe('ready');
  });
});

describe('versions', () => {
  it('of ten thousand picked parts, a thousand of them, stay under 20 MB', async () => {
    const job = await server.makeJob('Many versions');
    const keys = Array.from(
      { length: 10_000 },
      (_, i) => `3f0c9d1e-slot:/Station/Storey ${i % 10}/Zone ${i % 97}/Part ${i}`,
    );
    const picked = { id: 'p', kind: 'leave-out', on: true, selector: { by: 'picked', keys }, parameters: {} };
    const first = (await save(job, [...job.version.steps, picked])).body;
    const before = await tableBytes();
    // Further ones as a save makes them, by the database itself: a thousand saves would take minutes.
    await server.query(
      `insert into versions (job, number, parent, sources, steps, note)
       select job, number + n, number + n - 1, sources, steps, note from versions, generate_series(1, 998) n
       where job = '${job.id}' and number = ${first.version.number}`,
    );
    await server.query(`update jobs set version = ${first.version.number + 998} where id = '${job.id}'`);
    const last = await server.job(job.id);
    expect(last.version.number).toBe(1000);
    expect(last.version.steps.at(-1)).toEqual(picked);
    const off = (await save(last, [...last.version.steps.slice(0, -1), { ...picked, on: false }])).body;
    expect(off.version.steps.at(-1)).toMatchObject({ on: false, selector: { keys } });
    expect(before).toBeLessThan(20e6);
    expect(await tableBytes()).toBeLessThan(20e6);
  });

  async function tableBytes(): Promise<number> {
    const client = new pg.Client({ connectionString: server.databaseUrl });
    await client.connect();
    const { rows } = await client.query<{ bytes: string }>(
      "select pg_total_relation_size('versions') + pg_total_relation_size('step_contents') as bytes",
    );
    await client.end();
    return Number(rows[0].bytes);
  }
});
