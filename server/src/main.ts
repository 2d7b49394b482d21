/** Starts the server, and beside it a worker process that is started again when it dies. */
import { fork } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { programFile } from '@noble-prism/node/programs';
import { readConfig } from './config.ts';
import { connect, migrate } from './db/connect.ts';
import { EventHub } from './http/hub.ts';
import { makeApp } from './http/app.ts';
import { log } from './log.ts';
import { Zips } from './services/zips.ts';
import { Sweeper } from './sweep/sweeper.ts';

const config = readConfig();
const db = connect(config.databaseUrl);
await migrate(db);
const hub = new EventHub(config.databaseUrl);
await hub.open();
const sweeper = new Sweeper(config);
const blobs = new BlobFolder(join(config.dataDir, 'blobs'));
const zips = new Zips(join(config.dataDir, 'zips'), blobs);
const app = await makeApp({ db, hub, config, sweeper, blobs, zips });
/** What a socket says whose other end is not there any more. */
const GONE = new Set(['ERR_STREAM_PREMATURE_CLOSE', 'ECONNRESET', 'EPIPE']);
app.on('error', (error: NodeJS.ErrnoException) => {
  // Pages that go away in the middle of an answer are no news.
  if (!GONE.has(error.code ?? '')) log.error({ err: error }, 'answer failed');
});

let worker: ChildProcess | undefined;
let stopping = false;
function startWorker(): void {
  const started = Date.now();
  worker = fork(programFile('worker'));
  worker.on('exit', (code, signal) => {
    if (stopping) return;
    log.warn({ code, signal }, 'the worker ended and is started again');
    setTimeout(startWorker, Date.now() - started < 2000 ? 2000 : 0);
  });
}

const server = app.listen(config.port, config.host, () => {
  startWorker();
  sweeper.start();
  process.stdout.write(`Noble Prism is ready at http://${config.host}:${config.port}\n`);
});
// Longer than clients keep an idle connection: one that is used again just as we close it would fail.
server.keepAliveTimeout = 65_000;
server.on('error', (error: NodeJS.ErrnoException) => {
  const reason =
    error.code === 'EADDRINUSE' ? `port ${config.port} is in use; choose another with PORT=…` : error.message;
  process.stderr.write(`Cannot listen: ${reason}\n`);
  process.exit(1);
});

async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  sweeper.stop();
  worker?.kill('SIGTERM');
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await hub.close();
  await db.destroy();
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
