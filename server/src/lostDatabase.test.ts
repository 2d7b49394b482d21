// The database goes away under a running server, and comes back: nobody is told that something was kept which was not, and all goes on by itself.
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { atLength } from '@noble-prism/core/testing/atLength';
import { StepText } from '@noble-prism/core/testing/stepText';
import { DatabaseGate, TestServer } from './testing.ts';
import type { TestJob } from './testing.ts';

let server: TestServer;
let gate: DatabaseGate;
beforeAll(async () => {
  server = await TestServer.start();
  gate = new DatabaseGate(server.database);
});
afterEach(() => gate.open());
afterAll(() => server?.stop());

const rename = { id: 'n', kind: 'rename', on: true, selector: { by: 'all' }, parameters: { name: 'X', of: 'picked' } };
const save = (job: TestJob, note: string, base = job.version.number) =>
  server.call<{ error?: { code: string; message: string } }>('POST', `/api/jobs/${job.id}/versions`, {
    base,
    note,
    steps: [rename],
    sources: job.version.sources,
  });

function sample(): Uint8Array {
  const step = new StepText();
  step.product('Wedge', [step.tetrahedron(10).solid]);
  return step.bytes();
}

/** Asks until it is answered well. */
async function answered(path: string): Promise<void> {
  for (let tries = 0; tries < 100; tries++) {
    if ((await server.call('GET', path)).status === 200) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${path} is not answered.`);
}

describe('a database that is lost', () => {
  it('is said in words, with a status that tells to try again, and nothing is kept that was not acknowledged', async () => {
    const job = await server.makeJob('Station');
    await gate.shut();
    const refused = await save(job, 'into the void');
    // Not available for the moment (RFC 9110, 15.6.4).
    expect(refused.status).toBe(503);
    expect(refused.body.error?.code).toBe('internal');
    expect(refused.body.error?.message).toMatch(/^The database does not answer at the moment\. What was saved is safe/);
    await gate.open();
    await answered(`/api/jobs/${job.id}`);
    expect((await server.job(job.id)).version).toMatchObject({ number: 1 });
    expect((await save(job, 'again')).status).toBe(200);
    expect((await server.job(job.id)).version).toMatchObject({ number: 2, note: 'again' });
  });

  it('costs connections in the middle of work, and the work is done all the same when it is back', async () => {
    const job = await server.makeJob('Drive');
    await server.upload(job.id, 'wedge.stp', sample());
    await gate.cut();
    const done = await server.until(job.id, ({ tasks, version }) =>
      tasks.some(
        ({ kind, state, result }) => kind === 'evaluate' && state === 'done' && result?.version === version.number,
      ),
    );
    expect(done.sources).toMatchObject([{ name: 'wedge.stp', state: 'ready' }]);
  });

  atLength('is waited for by workers that start without it', async () => {
    const job = await server.makeJob('Early');
    await gate.shut();
    const [before] = await server.children();
    process.kill(before, 'SIGKILL');
    const worker = async () => (await server.children())[0];
    await vi.waitFor(async () => expect([undefined, before]).not.toContain(await worker()), { timeout: 20_000, interval: 200 }); // prettier-ignore
    const started = await worker();
    await new Promise((resolve) => setTimeout(resolve, 3500));
    // The very same process is still there.
    expect(await worker()).toBe(started);
    await gate.open();
    await answered(`/api/jobs/${job.id}`);
    await server.upload(job.id, 'wedge.stp', sample());
    const done = await server.until(job.id, ({ sources }) => sources.some(({ state }) => state === 'ready'));
    expect(done.sources).toMatchObject([{ name: 'wedge.stp', state: 'ready' }]);
  });

  it('is heard of again: pages are told to ask anew, and then of what happens', async () => {
    const job = await server.makeJob('Cabin');
    const events = await server.events(job.id);
    await gate.shut();
    await gate.open();
    await events.until(/event: resync/);
    await answered(`/api/jobs/${job.id}`);
    await server.call('PATCH', `/api/jobs/${job.id}`, { name: 'Cabin 2' });
    await events.until(/"type":"job"/);
    events.close();
  });
});
