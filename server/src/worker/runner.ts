/** The killable child in which tasks run. It stays warm between tasks, with its threads and the kernel loaded. */
import { readConfig } from '../config.ts';
import { connect } from '../db/connect.ts';
import { asPrismError } from '@noble-prism/core/errors';
import { SceneMemo } from '@noble-prism/core/preparation/evaluate';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { ThreadWorkbench } from '@noble-prism/node/threads';
import { join } from 'node:path';
import type { FromRunner, ToRunner } from './messages.ts';
import { runTask } from './tasks/index.ts';

const config = readConfig();
const db = connect(config.databaseUrl);
const context = {
  db,
  blobs: new BlobFolder(join(config.dataDir, 'blobs')),
  workbench: new ThreadWorkbench({ width: config.threads }),
  scenes: new SceneMemo(),
  deliveries: config.deliveries,
  unfinished: join(config.dataDir, 'unfinished'),
};
if (process.env.WARM) void context.workbench.warm().catch(() => {});

let controller: AbortController | undefined;

function say(message: FromRunner): void {
  process.send?.(message);
}

process.on('message', async (message: ToRunner) => {
  if ('cancel' in message) return controller?.abort();
  controller = new AbortController();
  try {
    const result = await runTask(message.task, context, (progress) => say({ progress }), controller.signal);
    say({ done: result });
  } catch (error) {
    say({ failed: asPrismError(error).toJSON() });
  }
});

// Without its worker nobody hears the results: end, and leave the task to the next one.
process.on('disconnect', () => process.exit(0));
