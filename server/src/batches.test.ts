// Many files prepared and sent alike: a job for each, which sends itself; what fails, is stopped or killed costs nothing else.
import { strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { READY_MADE } from '@noble-prism/core/transmit/targets/readyMade';
import { atLength } from '@noble-prism/core/testing/atLength';
import { StepText } from '@noble-prism/core/testing/stepText';
import type { Batch, BatchJob, BatchSummary } from '@noble-prism/wire/batch';
import { SETTLED } from '@noble-prism/wire/batch';
import { TestServer } from './testing.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server?.stop());

const wedge = (size: number) => {
  const step = new StepText();
  step.product(`Wedge ${size}`, [step.tetrahedron(size).solid]);
  return step.bytes();
};
const broken = strToU8('ISO-10303-21; this is no model');

const targets = ['Whole scene', 'Milling, simulation'].map((name, i) => ({
  id: `t${i}`,
  name,
  on: true,
  settings: READY_MADE.find((made) => made.name === name)?.settings,
}));
const order = { name: 'Wedges', template: null, targets, folder: false };

async function make(jobs: string[], change: object = {}): Promise<Batch> {
  const { body } = await server.call<Batch>('POST', '/api/batches', { ...order, jobs, ...change });
  return body;
}

/** The batch, once a condition holds. */
async function until(id: string, holds: (batch: Batch) => boolean): Promise<Batch> {
  for (let tries = 0; tries < 300; tries++) {
    const { status, body } = await server.call<Batch>('GET', `/api/batches/${id}`);
    if (status === 200 && holds(body)) return body;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(
    `The batch did not get there: ${JSON.stringify((await server.call('GET', `/api/batches/${id}`)).body)}`,
  );
}
const isThrough = ({ jobs }: Batch) => jobs.every(({ state }) => SETTLED.includes(state));
const states = ({ jobs }: Batch) => jobs.map(({ state }) => state);

describe('a batch', () => {
  it('does not wait for a file that was refused: an empty one is what became of its job', async () => {
    const { id, jobs } = await make(['one', 'two']);
    await expect(server.upload(jobs[0].job, 'nothing.stp', new Uint8Array())).rejects.toThrow('nothing.stp is empty');
    await server.upload(jobs[1].job, 'two.stp', wedge(10));
    const batch = await until(id, isThrough);
    expect(states(batch)).toEqual(['failed', 'sent']);
    expect(batch.jobs[0].error?.message).toContain('nothing.stp is empty');
    // A page hears of it by itself; a job of no batch has nothing to show for it.
    const job = await server.makeJob('Alone');
    await expect(server.upload(job.id, 'nothing.stp', new Uint8Array())).rejects.toThrow('nothing.stp is empty');
    expect((await server.job(job.id)).sources).toEqual([]);
  });

  it('sends each of its jobs to all targets when its file is read; one that cannot be read costs itself', async () => {
    const { id, jobs } = await make(['one', 'two', 'three']);
    expect(jobs.map(({ name, state }) => [name, state])).toEqual([['one', 'waiting'], ['two', 'waiting'], ['three', 'waiting']]); // prettier-ignore
    await server.upload(jobs[0].job, 'one.stp', wedge(10));
    await server.upload(jobs[1].job, 'two.stp', broken);
    await server.upload(jobs[2].job, 'three.stp', wedge(30));
    const batch = await until(id, isThrough);
    expect(states(batch)).toEqual(['sent', 'failed', 'sent']);
    expect(batch.jobs.map(({ picture }) => picture !== null)).toEqual([true, false, true]);
    const [one, two] = batch.jobs;
    expect(one).toMatchObject({ parts: 1, triangles: 4, files: 2, problems: [], sources: ['one.stp'] });
    expect(two.error?.code).toBe('not-readable');
    const { body } = await server.call<BatchSummary[]>('GET', '/api/batches');
    expect(body[0]).toMatchObject({ id, jobs: 3, sent: 2, failed: 1, open: 0 });

    const zip = await fetch(`${server.url}/api/batches/${id}/file`);
    const all = new Uint8Array(await zip.arrayBuffer());
    // Broken off in the middle, and taken up again.
    const rest = await fetch(`${server.url}/api/batches/${id}/file`, { headers: { Range: 'bytes=1000-', 'If-Range': zip.headers.get('ETag') ?? '' } }); // prettier-ignore
    expect(rest.status).toBe(206);
    expect(new Uint8Array(await rest.arrayBuffer())).toEqual(all.slice(1000));
    const entries = unzipSync(all);
    expect(Object.keys(entries).sort()).toEqual(
      ['one_v2', 'three_v2'].flatMap((name) => [`${name}/${name}.glb`, `${name}/${name}.manifest.json`, `${name}/${name}.report.html`, `${name}/${name}_mm.stl`]), // prettier-ignore
    );
    expect(entries['three_v2/three_v2_mm.stl']).toHaveLength(84 + 4 * 50);
    // The jobs are jobs like others, with a picture on the list and in the report though no browser has drawn them.
    expect(new TextDecoder().decode(entries['one_v2/one_v2.report.html'])).toContain(
      '<img src="data:image/png;base64,',
    );
    const { body: list } = await server.call<{ id: string; batch: string | null; picture: string | null }[]>(
      'GET',
      '/api/jobs',
    );
    expect(list.filter((job) => job.batch === id).map(({ picture }) => picture !== null).sort()).toEqual([false, true, true]); // prettier-ignore
    expect(list.filter((job) => job.batch === id)).toHaveLength(3);
  });

  it('says of a package which of its models is not in what was sent', async () => {
    const { id, jobs } = await make(['package']);
    await server.upload(jobs[0].job, 'package.zip', zipSync({ 'good.stp': wedge(10), 'also.stp': wedge(20), 'bad.stp': broken })); // prettier-ignore
    const { jobs: through } = await until(id, isThrough);
    expect(through[0]).toMatchObject({ state: 'incomplete', parts: 2, problems: [expect.stringContaining('bad.stp')] });
  });

  atLength('goes on after the server was killed', async () => {
    const { id, jobs } = await make(['a', 'b', 'c', 'd']);
    for (const { job, name } of jobs) await server.upload(job, `${name}.stp`, wedge(10));
    await server.kill();
    await server.launch();
    const batch = await until(id, isThrough);
    expect(states(batch)).toEqual(['sent', 'sent', 'sent', 'sent']);
    // Once each, however often a task was begun.
    for (const { job } of jobs) {
      const { body } = await server.call<{ transmittals: unknown[] }>('GET', `/api/jobs/${job}`);
      expect(body.transmittals).toHaveLength(1);
    }
  });

  it('is stopped and taken up again', async () => {
    const { id, jobs } = await make(['late', 'never']);
    await server.upload(jobs[0].job, 'late.stp', wedge(10));
    const { body: stopped } = await server.call<Batch>('POST', `/api/batches/${id}/stop`);
    expect(states(stopped).every((state) => state === 'stopped' || state === 'sent')).toBe(true);
    await server.call('POST', `/api/batches/${id}/send`, {});
    const batch = await until(id, ({ jobs: [late] }) => late.state === 'sent');
    expect(states(batch)).toEqual(['sent', 'waiting']);
    // Again, as it is now: another transmittal of the same job.
    await server.call('POST', `/api/batches/${id}/send`, { jobs: [jobs[0].job] });
    const before = batch.jobs[0].transmittal;
    const { jobs: again } = await until(id, ({ jobs: [late] }) => late.state === 'sent' && late.transmittal !== before);
    expect(again[0].error).toBeNull();
  });

  it('is deleted with its jobs, or leaves them', async () => {
    const kept = await make(['kept']);
    const gone = await make(['gone']);
    await server.call('DELETE', `/api/batches/${kept.id}`);
    await server.call('DELETE', `/api/batches/${gone.id}?jobs=true`);
    const status = async ({ jobs }: { jobs: BatchJob[] }) =>
      (await server.call('GET', `/api/jobs/${jobs[0].job}`)).status;
    expect([await status(kept), await status(gone)]).toEqual([200, 404]);
    expect((await server.call('GET', `/api/batches/${kept.id}`)).status).toBe(404);
  });

  it.each([
    [{ jobs: [] }, 'at least one job'],
    [{ jobs: ['a'], targets: targets.map((target) => ({ ...target, on: false })) }, 'no target'],
    [{ jobs: ['a'], template: 'nobody' }, 'no such template'],
    [{ jobs: ['a', 'b'.repeat(300)] }, 'at most 200 characters'],
  ])('is refused whole for %j', async (change, text) => {
    const count = async () => (await server.call<unknown[]>('GET', '/api/jobs')).body.length;
    const before = await count();
    const { status, body } = await server.call<{ error: { message: string } }>('POST', '/api/batches', {
      ...order,
      ...change,
    });
    expect(status).toBeGreaterThanOrEqual(400);
    expect(body.error.message).toContain(text);
    expect(await count()).toBe(before);
  });
});
