/** A process of a batch: prepares one file after the other, as they are handed to it. One that crashes costs the file under way. */
import { asPrismError } from '@noble-prism/core/errors';
import type { ErrorJson } from '@noble-prism/core/errors';
import { benchFor, prepare } from './prepare.ts';
import type { Prepared } from './prepare.ts';
import { tidyWhenStopped } from './wholeFiles.ts';

export type ToChild = { bytes: number; width: number } | { prepare: Prepared };

export type Outcome = Awaited<ReturnType<typeof prepare>>;

export type FromChild = { progress: string } | { done: Outcome } | { failed: ErrorJson };

/** Loaded once for all files that come here. */
let workbench: ReturnType<typeof benchFor> | undefined;

const say = (message: FromChild) => process.send?.(message);

process.on('message', async (message: ToChild) => {
  if ('bytes' in message) {
    workbench = benchFor(message.bytes, message.width);
    return;
  }
  try {
    say({ done: await prepare(message.prepare, { workbench, progress: (progress) => say({ progress }) }) });
  } catch (error) {
    say({ failed: asPrismError(error, { file: message.prepare.files[0] }).toJSON() });
  }
});
tidyWhenStopped();
