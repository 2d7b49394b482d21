// Jobs as a whole: copied, deleted, pictured; what was sent taken out of the history; and the disk swept of what nothing needs.
import { readdir, stat, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import { StepText } from '@noble-prism/core/testing/stepText';
import { TestServer } from './testing.ts';
import type { TestJob } from './testing.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server?.stop());

function sample(size: number): Uint8Array {
  const step = new StepText();
  const unit = step.product('Unit');
  const part = step.product('Wedge', [step.tetrahedron(size).solid]);
  step.place(unit, part, step.axis());
  step.place(unit, part, step.axis([100, 0, 0]));
  return step.bytes();
}

const evaluated = ({ tasks, version }: TestJob) =>
  tasks.some(
    ({ kind, state, result }) => kind === 'evaluate' && state === 'done' && result?.version === version.number,
  );

async function received(size: number, name = 'Job'): Promise<TestJob> {
  const { id } = await server.makeJob(name);
  await server.upload(id, 'unit.stp', sample(size));
  return server.until(id, evaluated);
}

async function sent(job: TestJob): Promise<TestJob> {
  const targets = [{ name: 'Whole scene', settings: DEFAULT_TARGET }];
  const body = { targets, name: 'unit', version: job.version.number };
  await server.call('POST', `/api/jobs/${job.id}/transmittals`, body);
  return server.until(job.id, ({ transmittals }) => transmittals.length > 0);
}

const status = async (method: string, path: string, body?: unknown) => (await server.call(method, path, body)).status;

/** Makes everything on the disk and in the results look two days old. */
async function age(): Promise<void> {
  const old = new Date(Date.now() - 48 * 3600_000);
  const visit = async (folder: string): Promise<void> => {
    for (const name of await readdir(folder)) {
      const path = join(folder, name);
      if ((await stat(path)).isDirectory()) await visit(path);
      else await utimes(path, old, old);
    }
  };
  await visit(server.dataDir);
  await server.query("update memo set made_at = now() - interval '2 days'");
  await server.query("update sources set received_at = now() - interval '2 days'");
}

interface Sweep {
  used: { files: number; bytes: number };
  freed: { files: number; bytes: number };
  results: number;
  sources: number;
}
const sweep = async () => (await server.call<Sweep>('POST', '/api/sweep')).body;

describe('a copied job', () => {
  it('has the same sources under the same ids and the same steps, and goes its own way', async () => {
    const job = await received(11, 'Station');
    const { body: copy } = await server.call<TestJob>('POST', `/api/jobs/${job.id}/copy`, { name: 'Station, copy' });
    expect(copy).toMatchObject({
      name: 'Station, copy',
      version: { number: 1, parent: null, steps: job.version.steps },
    });
    expect(copy.version.sources).toEqual(job.version.sources);
    expect(copy.sources.map(({ scene }) => scene)).toEqual(job.sources.map(({ scene }) => scene));
    await server.until(copy.id, evaluated);
    // The first is deleted; the copy is whole.
    expect(await status('DELETE', `/api/jobs/${job.id}`)).toBe(200);
    const after = await server.job(copy.id);
    expect(after.sources).toHaveLength(1);
    expect((await fetch(`${server.url}/api/blobs/${after.sources[0].scene}`)).status).toBe(200);
  });

  it('is not made of a job that is not there, or without a name', async () => {
    expect(await status('POST', '/api/jobs/nobody/copy', { name: 'x' })).toBe(404);
    const { id } = await server.makeJob();
    expect(await status('POST', `/api/jobs/${id}/copy`, { name: ' ' })).toBe(422);
  });
});

describe('an address', () => {
  it('with a sign that no text can have is refused in words', async () => {
    const { status: code, body } = await server.call<{ error: { message: string } }>('GET', '/api/jobs/%00');
    expect([code, body.error.message]).toEqual([422, expect.stringContaining('sign in it that cannot be kept')]);
  });
});

describe('a deleted job', () => {
  it('is gone with what belonged to it, once', async () => {
    const job = await sent(await received(12));
    const [{ id }] = job.transmittals;
    expect(await status('DELETE', `/api/jobs/${job.id}`)).toBe(200);
    expect(await status('GET', `/api/jobs/${job.id}`)).toBe(404);
    expect((await fetch(`${server.url}/api/transmittals/${id}/file`)).status).toBe(404);
    expect(await status('DELETE', `/api/jobs/${job.id}`)).toBe(404);
  });
});

describe('a transmittal', () => {
  it('can be taken out of the history of its own job only', async () => {
    const [job, other] = [await sent(await received(13)), await server.makeJob()];
    const [{ id }] = job.transmittals;
    expect(await status('DELETE', `/api/jobs/${other.id}/transmittals/${id}`)).toBe(404);
    const { body } = await server.call<TestJob>('DELETE', `/api/jobs/${job.id}/transmittals/${id}`);
    expect(body.transmittals).toEqual([]);
    expect(await status('DELETE', `/api/jobs/${job.id}/transmittals/${id}`)).toBe(404);
  });
});

describe('the picture of a job', () => {
  const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

  it('is kept, listed and shown as what it is', async () => {
    const { id } = await server.makeJob('Pictured');
    expect((await fetch(`${server.url}/api/jobs/${id}/picture`)).status).toBe(404);
    const before = (await server.job(id)).version.number;
    expect(await status('PUT', `/api/jobs/${id}/picture`, { picture: PNG })).toBe(200);
    const answer = await fetch(`${server.url}/api/jobs/${id}/picture`);
    expect(answer.headers.get('content-type')).toBe('image/png');
    expect(Buffer.from(await answer.arrayBuffer()).toString('base64')).toBe(PNG);
    const { body } = await server.call<{ id: string; picture: string }[]>('GET', '/api/jobs');
    expect(body.find((job) => job.id === id)?.picture).toMatch(/^[0-9a-f]{64}$/);
    expect((await server.job(id)).version.number).toBe(before);
  });

  it.each([['<svg onload="alert(1)"/>'], [Buffer.from('<svg/>').toString('base64')], ['A'.repeat(500_000)]])(
    'is refused where it is none or too large: %.20s',
    async (picture) => {
      const { id } = await server.makeJob();
      expect(await status('PUT', `/api/jobs/${id}/picture`, { picture })).toBe(422);
    },
  );
});

describe('the view that a job opens with', () => {
  it('is kept, copied with the job, and given up', async () => {
    const { id } = await server.makeJob();
    const view = { from: [1, 2, 3], to: [0, 0, 0], lens: 36 };
    expect((await server.call('PUT', `/api/jobs/${id}/view`, { view })).body).toMatchObject({ view });
    expect((await server.call('POST', `/api/jobs/${id}/copy`, { name: 'Copy' })).body).toMatchObject({ view });
    expect((await server.call('PUT', `/api/jobs/${id}/view`, { view: null })).body).toMatchObject({ view: null });
  });

  it.each([
    {},
    { view: { from: [1, 2], to: [0, 0, 0], lens: 36 } },
    { view: { from: [1, 2, 9e9], to: [0, 0, 0], lens: 36 } },
  ])('is refused as %j', async (body) => {
    const { id } = await server.makeJob();
    expect(await status('PUT', `/api/jobs/${id}/view`, body)).toBe(422);
  });
});

describe('a sweep', () => {
  it('leaves alone what is younger than a day, whoever needs it', async () => {
    const job = await received(14);
    await server.call('DELETE', `/api/jobs/${job.id}`);
    expect(await sweep()).toMatchObject({ freed: { files: 0, bytes: 0 }, results: 0 });
  });

  it('keeps what versions and transmittals refer to, and takes what deleted jobs and given up uploads left', async () => {
    const kept = await sent(await received(15, 'Kept'));
    // A source that was taken out again stays for undo.
    const base = kept.version.number;
    const { steps } = kept.version;
    await server.call('POST', `/api/jobs/${kept.id}/versions`, { base, note: 'Source removed', steps, sources: [] });
    const gone = await sent(await received(16, 'Gone'));
    await server.call('DELETE', `/api/jobs/${gone.id}`);
    await writeFile(join(server.dataDir, 'uploads', 'half-an-upload'), 'x'.repeat(5000));
    await age();

    const first = await sweep();
    expect(first.results).toBeGreaterThan(0);
    expect(first.freed.bytes).toBeGreaterThan(5000);
    expect(await readdir(join(server.dataDir, 'uploads'))).toEqual([]);
    // What forgotten results named goes with the next sweep; then nothing is left to go.
    await age();
    const second = await sweep();
    expect(second.used.files).toBeLessThan(first.used.files);
    await age();
    expect((await sweep()).freed.files).toBe(0);
    expect((await fetch(`${server.url}/api/blobs/${gone.sources[0].blob}`)).status).toBe(404);

    // The job that is left is whole: what it sent, and undo to what it was, without computing anything again.
    const [{ id }] = kept.transmittals;
    expect((await fetch(`${server.url}/api/transmittals/${id}/file`)).status).toBe(200);
    const now = (await server.job(kept.id)).version.number;
    const { body: undone } = await server.call<TestJob>('POST', `/api/jobs/${kept.id}/undo`, { base: now });
    expect(undone.version.sources).toEqual(kept.version.sources);
    const done = await server.until(kept.id, evaluated);
    const task = done.tasks.findLast(({ kind, state }) => kind === 'evaluate' && state === 'done');
    expect(task?.result).toMatchObject({ counts: { worked: 0 }, problems: 0 });
    const again = await sent({ ...done, transmittals: [] });
    expect(again.transmittals[0].outputs[0].readBack?.holds).toBe(true);
  });

  it('says how much space is used', async () => {
    const { body } = await server.call<{ used: { bytes: number }; database: number }>('GET', '/api/space');
    expect(body.used.bytes).toBeGreaterThan(0);
    expect(body.database).toBeGreaterThan(1_000_000);
  });
});
