/** How long the server's event loop is held up while it saves a version with many picked parts, told by the server's own process. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { TestServer } from '@noble-prism/server/testing';
import { print } from './report.ts';
import { startPostgres } from './scripts.ts';

const postgres = await startPostgres();

/** Milliseconds. */
const aims = new Map([
  [10_000, 20],
  [100_000, 100],
]);

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-bench-'));
const file = join(folder, 'event-loop');
process.env.EVENT_LOOP_FILE = file;
process.env.NODE_OPTIONS = `${process.env.NODE_OPTIONS ?? ''} --import ${join(process.cwd(), 'bench', 'src', 'eventLoop.mjs')}`;
const heldUp = () => readFileSync(file, 'utf8').trim().split('\n').map(Number);
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
    const times: number[] = [];
    for (let round = 0; round < 8; round++) {
      await wait(400);
      const before = heldUp().length;
      const body = { base, note: 'Bench', steps: [step(`Name ${round}`)], sources: [] };
      const { status } = await server.call('POST', `/api/jobs/${job.id}/versions`, body);
      if (status !== 200) throw new Error(`The save was refused with ${status}.`);
      base++;
      await wait(250);
      times.push(Math.max(...heldUp().slice(before)));
    }
    // The first saves are made by code that is not warm yet.
    print({
      name: `Event loop held up at most while ${picked} picked parts are saved`,
      value: median(times.slice(2)),
      unit: 'ms',
      aim: { most },
      note: `of six saves ${Math.min(...times.slice(2)).toFixed(1)} to ${Math.max(...times.slice(2)).toFixed(1)}, cold ${times[0].toFixed(1)}`,
    });
  }
} finally {
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
  postgres.stop();
}
process.exit(0);
