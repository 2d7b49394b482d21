/** Files on their way into the job: bundled, asked about where they are called like a source, sent one after the other. */
import { ref, shallowRef } from 'vue';
import type { Ref, ShallowRef } from 'vue';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import { bundled } from '../api/bundle.ts';
import type { Dropped } from '../api/bundle.ts';
import type { Source } from '../api/client.ts';
import { upload } from '../api/upload.ts';

export interface UploadState {
  number: number;
  name: string;
  sent: number;
  total: number;
  cancel(): void;
}

export interface Receiving {
  uploads: Ref<UploadState[]>;
  /** What of the latest drop was in a folder and is no model. */
  ignored: ShallowRef<string[]>;
  /** Files that are called like sources of the job, until it is said what they are. */
  sameNames: ShallowRef<{ file: File; source: Source }[]>;
  receive(dropped: readonly Dropped[] | Promise<Dropped[]>): Promise<void>;
  revise(slot: string, dropped: readonly Dropped[]): Promise<void>;
  takeSameNames(as: 'revisions' | 'sources'): Promise<void>;
}

let uploadNumber = 0;

export function useReceiving({
  job,
  sources,
  received,
  fail,
}: {
  /** Id of the open job. */
  job(): string | undefined;
  sources(): readonly Source[];
  /** A file has been sent. */
  received(): Promise<void>;
  fail(thrown: unknown): void;
}): Receiving {
  const uploads = ref<UploadState[]>([]);
  const ignored = shallowRef<string[]>([]);
  const sameNames = shallowRef<{ file: File; source: Source }[]>([]);

  /** Takes in what was dropped or chosen together. */
  async function receive(dropped: readonly Dropped[] | Promise<Dropped[]>): Promise<void> {
    if (!job()) return;
    const bundle = await guarded(Promise.resolve(dropped).then(bundled));
    ignored.value = bundle?.ignored ?? [];
    const files = bundle?.files ?? [];
    // A file that is called like a source may be a new revision of it: that is asked. Looked at before anything new is there.
    const again = files.flatMap((file) => {
      const source = sources().find(({ name }) => name === file.name);
      return source ? [{ file, source }] : [];
    });
    if (again.length > 0) sameNames.value = [...sameNames.value, ...again];
    const asked = new Set(again.map(({ file }) => file));
    await sendFiles(files.filter((file) => !asked.has(file)).map((file) => ({ file })));
  }

  /** Answers what files that are called like sources are. */
  async function takeSameNames(as: 'revisions' | 'sources'): Promise<void> {
    const asked = sameNames.value;
    sameNames.value = [];
    await sendFiles(asked.map(({ file, source }) => ({ file, ...(as === 'revisions' ? { slot: source.id } : {}) })));
  }

  /** Takes in what was chosen as the new revision of a source. */
  async function revise(slot: string, dropped: readonly Dropped[]): Promise<void> {
    const bundle = await guarded(bundled(dropped));
    const [file, ...others] = bundle?.files ?? [];
    if (!file) return;
    if (others.length > 0)
      return fail(new PrismError('bad-parameters', 'A new revision is one model, with the files that belong to it.'));
    await sendFiles([{ file, slot }]);
  }

  async function sendFiles(files: readonly { file: File; slot?: string }[]): Promise<void> {
    const id = job();
    if (!id) return;
    // One after the other: sources stand in the order of the drop, and the first can be looked at while the rest is sent.
    const waiting = files.map(({ file, slot }) => {
      const state: UploadState = {
        number: ++uploadNumber,
        name: file.name,
        sent: 0,
        total: file.size,
        cancel: () => gone(state),
      };
      uploads.value.push(state);
      return { file, slot, number: state.number };
    });
    for (const { file, slot, number } of waiting) {
      const state = uploads.value.find((candidate) => candidate.number === number);
      if (!state) continue;
      const running = upload(id, file, (sent, total) => Object.assign(state, { sent, total }), slot);
      state.cancel = running.cancel;
      await running.done.then(received, (thrown) => {
        if (asPrismError(thrown).code !== 'cancelled') fail(thrown);
      });
      gone(state);
    }
  }
  function gone({ number }: UploadState): void {
    uploads.value = uploads.value.filter((state) => state.number !== number);
  }

  async function guarded<T>(work: Promise<T>): Promise<T | undefined> {
    try {
      return await work;
    } catch (thrown) {
      fail(thrown);
      return undefined;
    }
  }

  return { uploads, ignored, sameNames, receive, revise, takeSameNames };
}
