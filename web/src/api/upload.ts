/** Resumable upload of a file into a job (tus protocol). */
import { Upload } from 'tus-js-client';
import { PrismError } from '@noble-prism/core/errors';

/** Pieces of this size are acknowledged one by one, so that a lost connection costs little. Bytes. */
const CHUNK = 8_000_000;

export interface RunningUpload {
  done: Promise<void>;
  cancel(): void;
}

/** @param slot source that it is a new revision of */
export function upload(
  job: string,
  file: File,
  progress: (sent: number, total: number) => void,
  slot?: string,
): RunningUpload {
  let cancel = () => {};
  const done = new Promise<void>((resolve, reject) => {
    const running = new Upload(file, {
      endpoint: '/api/uploads',
      chunkSize: CHUNK,
      retryDelays: [0, 500, 1500, 4000, 8000],
      metadata: { filename: file.name, job, ...(slot ? { slot } : {}) },
      // The same file may be wanted in another job, or again: what was left over of a finished one must not be resumed.
      fingerprint: async () =>
        `noble-prism ${[job, slot, file.name].filter(Boolean).join(' ')} ${file.size} ${file.lastModified}`,
      removeFingerprintOnSuccess: true,
      onProgress: progress,
      onSuccess: () => resolve(),
      onError: (error) => reject(explain(error, file.name)),
    });
    cancel = () => {
      void running.abort(true);
      reject(new PrismError('cancelled', `${file.name}: upload cancelled.`));
    };
    void running.findPreviousUploads().then((previous) => {
      if (previous[0]) running.resumeFromPreviousUpload(previous[0]);
      running.start();
    });
  });
  return { done, cancel: () => cancel() };
}

function explain(
  error: Error & { originalResponse?: { getBody(): string; getStatus(): number } | null },
  name: string,
): PrismError {
  const response = error.originalResponse;
  try {
    const { error: known } = JSON.parse(response?.getBody() ?? '') as { error: { code: 'internal'; message: string } };
    return new PrismError(known.code, known.message, { file: name });
  } catch {
    if (response?.getStatus() === 413)
      return new PrismError('too-large', `${name} is larger than the server takes.`, { file: name });
    return new PrismError(
      'internal',
      `${name} could not be sent: the server does not answer. Drop it again to go on where it stopped.`,
      { file: name },
    );
  }
}
