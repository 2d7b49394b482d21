/** A worker thread that runs heavy tasks of the core by name, one at a time. */
import { parentPort } from 'node:worker_threads';
import { asPrismError } from '@noble-prism/core/errors';
import { providePictures } from '@noble-prism/core/finish/sets/makePicture';
import { provideKernel, kernel } from '@noble-prism/core/solid/kernel';
import { TASKS } from '@noble-prism/core/tasks';
import type { TaskName } from '@noble-prism/core/tasks';
import { loadKernel } from './loadKernel.ts';

export interface ThreadRequest {
  number: number;
  task: TaskName | 'warm';
  input: unknown;
}

provideKernel(loadKernel);
providePictures(async () => (await import('./pictures.ts')).nodePictures);

/** Often enough for somebody who waits, milliseconds. */
const EVERY = 200;

function tell(number: number): (share: number) => void {
  let last = performance.now();
  return (share) => {
    if (performance.now() - last < EVERY) return;
    last = performance.now();
    parentPort?.postMessage({ number, share });
  };
}

parentPort?.on('message', async ({ number, task, input }: ThreadRequest) => {
  try {
    const output =
      task === 'warm' ? await kernel().then(() => undefined) : await TASKS[task](input as never, tell(number));
    const transfer = output && 'blob' in output ? [output.blob.buffer as ArrayBuffer] : [];
    parentPort?.postMessage({ number, output }, transfer);
  } catch (error) {
    parentPort?.postMessage({ number, error: asPrismError(error).toJSON() });
  }
});
