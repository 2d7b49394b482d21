/** Files on their way to the jobs of batches; they go on while other pages are looked at. */
import { defineStore } from 'pinia';
import { computed, reactive } from 'vue';
import { asPrismError } from '@noble-prism/core/errors';
import { sideBySide } from '@noble-prism/core/sideBySide';
import { upload } from '../api/upload.ts';

export interface BatchUpload {
  /** Bytes. */
  sent: number;
  total: number;
  /** Why it did not arrive. */
  error?: string;
  cancel(): void;
}

/** Files sent at a time: the next is on its way while the server takes the last in. */
const AT_ONCE = 2;

export const useBatchUploads = defineStore('batchUploads', () => {
  /** By job. */
  const uploads = reactive(new Map<string, BatchUpload>());
  const isSending = computed(() => [...uploads.values()].some(({ error }) => error === undefined));

  /** Sends each file to its job. One that does not arrive says so, and the others go on. */
  async function send(files: readonly { job: string; file: File }[]): Promise<void> {
    for (const { job, file } of files)
      uploads.set(job, { sent: 0, total: file.size, cancel: () => uploads.delete(job) });
    await sideBySide(files, AT_ONCE, async ({ job, file }) => {
      const state = uploads.get(job);
      if (!state) return;
      const running = upload(job, file, (sent, total) => Object.assign(state, { sent, total }));
      state.cancel = running.cancel;
      await running.done.then(
        () => uploads.delete(job),
        (thrown: unknown) => {
          const { code, message } = asPrismError(thrown);
          if (code === 'cancelled') uploads.delete(job);
          else state.error = message;
        },
      );
    });
  }

  function cancel(jobs: readonly string[]): void {
    for (const job of jobs) uploads.get(job)?.cancel();
  }

  // What has not arrived when the page is closed has to be dropped again.
  window.addEventListener('beforeunload', (event) => {
    if (isSending.value) event.preventDefault();
  });

  return { uploads, isSending, send, cancel };
});
