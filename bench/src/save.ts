/** How long the server answers nobody while it saves a version with many picked parts: the longest wait of a small question meanwhile. */
import { Worker } from 'node:worker_threads';
import { TestServer } from '@noble-prism/server/testing';
import { print } from './report.ts';

const { ensurePostgres } = (await import('../../scripts/lib/postgres.mjs' as string)) as {
  ensurePostgres(name: string): Promise<{ url: string; stop(): void }>;
};
const postgres = await ensurePostgres('prism_bench');
process.env.DATABASE_URL = postgres.url;

/** Milliseconds. */
const aims = new Map([
  [10_000, 20],
  [100_000, 100],
]);

/** Asks a small question again and again, and tells what each answer took. */
const ASKING = `
  const { parentPort, workerData } = require('node:worker_threads');
  let took = [];
  parentPort.on('message', () => { parentPort.postMessage(took); took = []; });
  (async () => {
    for (;;) {
      const began = performance.now();
      await (await fetch(workerData)).arrayBuffer();
      took.push(performance.now() - began);
    }
  })();
`;

/** Saves, and tells the status of the answer. */
const SAVING = `
  const { parentPort, workerData: { url, body } } = require('node:worker_threads');
  fetch(url, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body })
    .then(({ status }) => parentPort.postMessage(status));
`;
const saved = (url: string, body: string): Promise<number> =>
  new Promise((resolve, reject) => {
    const saver = new Worker(SAVING, { eval: true, workerData: { url, body } });
    saver.once('message', resolve);
    saver.once('error', reject);
  });
const told = (asker: Worker): Promise<number[]> =>
  new Promise((resolve) => {
    asker.once('message', resolve);
    asker.postMessage('tell');
  });
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

const server = await TestServer.start();
try {
  for (const [picked, most] of aims) {
    const job = await server.makeJob(`Saves of ${picked}`);
    const keys = Array.from({ length: picked }, (_, i) => `plant:/Plant/Storey ${i % 20}/Zone ${i % 500}/Part ${i}`);
    const step = (name: string) => ({
      id: 'names',
      kind: 'rename',
      on: true,
      selector: { by: 'picked', keys },
      parameters: { name, of: 'picked' },
    });
    let base = job.version.number;
    const waits: number[] = [];
    let usual = Infinity;
    for (let round = 0; round < 6; round++) {
      const body = JSON.stringify({ base, note: 'Bench', steps: [step(`Name ${round}`)], sources: [] });
      // Both in threads of their own: what they are busy with is not the server's.
      const asker = new Worker(ASKING, { eval: true, workerData: `${server.url}/api/templates` });
      await new Promise((resolve) => setTimeout(resolve, 400));
      const before = await told(asker);
      const status = await saved(`${server.url}/api/jobs/${job.id}/versions`, body);
      if (status !== 200) throw new Error(`The save was refused with ${status}.`);
      base++;
      await new Promise((resolve) => setTimeout(resolve, 200));
      const during = await told(asker);
      await asker.terminate();
      usual = Math.min(usual, before.sort((a, b) => a - b)[Math.floor(before.length / 2)]);
      if (round > 0) waits.push(Math.max(...during));
    }
    // The first save is made by code that is not warm yet, and left out.
    print({
      name: `Longest wait for another while ${picked} picked parts are saved`,
      value: median(waits) - usual,
      unit: 'ms',
      aim: { most },
      note: `a small question takes ${usual.toFixed(1)} ms otherwise`,
    });
  }
} finally {
  await server.stop();
  postgres.stop();
}
process.exit(0);
