/** Starts a worker of its own: on this machine beside the server, or on another with the same database and blobs. */
import { readConfig } from '../config.ts';
import { connect } from '../db/connect.ts';
import { TaskWorker } from './worker.ts';

const config = readConfig();
const db = connect(config.databaseUrl);
const workers = [
  // What somebody points at does not wait for an evaluation.
  new TaskWorker(db, config, ['read', 'exact']),
  new TaskWorker(db, config, ['evaluate', 'try', 'transmit', 'forecast', 'compare']),
];
const stop = () => void Promise.all(workers.map((worker) => worker.stop())).finally(() => process.exit(0));
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// Started by the server, it ends with the server.
process.on('disconnect', stop);
await Promise.all(workers.map((worker) => worker.run()));
