/** Loaded into the server before all else: writes how long its event loop was held up, milliseconds, a line for each tenth of a second. */
import { appendFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';

const { EVENT_LOOP_FILE: file } = process.env;
// Its workers are started with the same settings.
if (file && process.argv[1]?.endsWith('server/src/main.ts')) {
  const delay = monitorEventLoopDelay({ resolution: 1 });
  delay.enable();
  setInterval(() => {
    appendFileSync(file, `${delay.max / 1e6}\n`);
    delay.reset();
  }, 100).unref();
}
