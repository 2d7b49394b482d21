/** The most memory that this process takes while something works: another thread watches. */
import { setTimeout as wait } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';

/** Sets the largest size of the process into a shared number, every few milliseconds. */
const WATCH = `
  const { workerData } = require('node:worker_threads');
  const peak = new Float64Array(workerData);
  const pause = new Int32Array(new SharedArrayBuffer(4));
  for (;;) { peak[0] = Math.max(peak[0], process.memoryUsage.rss()); Atomics.wait(pause, 0, 0, 3); }
`;

/** Begins to watch. @returns what ends it, and gives the bytes above those taken before */
export async function watchedPeak(): Promise<() => Promise<number>> {
  const peak = new Float64Array(new SharedArrayBuffer(8));
  const watch = new Worker(WATCH, { eval: true, workerData: peak.buffer });
  await wait(500);
  global.gc?.();
  await wait(500);
  peak[0] = 0;
  const before = process.memoryUsage.rss();
  return async () => {
    const over = peak[0] - before;
    await watch.terminate();
    return over;
  };
}
