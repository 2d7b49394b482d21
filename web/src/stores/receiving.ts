/** Files on their way into the job: bundled, asked about where they are called like a source, sent one after the other. */
import { ref, shallowRef } from 'vue';
import type { Ref, ShallowRef } from 'vue';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import { endingOf, lastOf } from '@noble-prism/core/read/paths';
import { slotsByName, slotsOfRevision } from '@noble-prism/core/read/revisions';
import { zipNames } from '@noble-prism/core/read/zipNames';
import { bundled, sourceOfFile } from '../api/bundle.ts';
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

/** A file, the source that it may be a revision of, and the names that they share. */
export interface SameName {
  file: File;
  source: Source;
  names: string[];
}

export interface Receiving {
  uploads: Ref<UploadState[]>;
  /** What of the latest drop was in a folder and is no model. */
  ignored: ShallowRef<string[]>;
  /** Files that are called like sources of the job, or hold some that are, until it is said what they are. */
  sameNames: ShallowRef<SameName[]>;
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
  const sameNames = shallowRef<SameName[]>([]);

  /** Takes in what was dropped or chosen together. */
  async function receive(dropped: readonly Dropped[] | Promise<Dropped[]>): Promise<void> {
    if (!job()) return;
    const bundle = await guarded(Promise.resolve(dropped).then(bundled));
    ignored.value = bundle?.ignored ?? [];
    const files = bundle?.files ?? [];
    // A file that is called like a source may be a new revision of it: that is asked. Looked at before anything new is there.
    const again = (await Promise.all(files.map(sameName))).flatMap((found) => found ?? []);
    if (again.length > 0) sameNames.value = [...sameNames.value, ...again];
    const asked = new Set(again.map(({ file }) => file));
    await sendFiles(files.filter((file) => !asked.has(file)).map((file) => ({ file })));
  }

  /** What of a file, or of what is packed in it, is called like a source. */
  async function sameName(file: File): Promise<SameName | undefined> {
    const isZip = endingOf(file.name) === 'zip';
    // What cannot be read is told of where it is sent.
    const packed = isZip ? await zipNames(sourceOfFile(file)).catch(() => []) : [];
    const inside = [file.name, ...packed];
    const slots = slotsByName(inside, shown());
    const source = sources().find(({ id }) => id === slots.find((slot) => slot !== undefined));
    const names = inside.filter((_, i) => slots[i] !== undefined).map(lastOf);
    return source && { file, source, names };
  }

  const shown = () => sources().map(({ id, name }) => ({ slot: id, name }));

  /** Answers what files that are called like sources are. */
  async function takeSameNames(as: 'revisions' | 'sources'): Promise<void> {
    const asked = sameNames.value;
    sameNames.value = [];
    await sendFiles(asked.map(({ file, source }) => ({ file, ...(as === 'revisions' ? { slot: source.id } : {}) })));
  }

  /** Takes in what was chosen as the new revision of a source. */
  async function revise(slot: string, dropped: readonly Dropped[]): Promise<void> {
    const bundle = await guarded(bundled(dropped));
    const files = bundle?.files ?? [];
    if (files.length === 0) return;
    const names = files.map(({ name }) => name);
    const slots = files.length === 1 ? [slot] : slotsOfRevision(names, slot, shown());
    if (!slots)
      return fail(
        new PrismError(
          'bad-parameters',
          `None of these ${files.length} models can be told to be the new revision: it would be the one that is called like the source. Choose it alone.`,
        ),
      );
    await sendFiles(files.map((file, i) => ({ file, ...(slots[i] === undefined ? {} : { slot: slots[i] }) })));
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
