/** Surroundings that live in memory and in this thread: for the command line, for tests, for the browser. */
import type { Content } from './content.ts';
import { PrismError } from './errors.ts';
import { hashBytes } from './scene/hash.ts';
import type { BlobStore, Memo, Surroundings, Workbench } from './surroundings.ts';
import { TASKS } from './tasks.ts';

export class MemoryBlobs implements BlobStore {
  readonly #blobs = new Map<string, Uint8Array>();

  async get(hash: string): Promise<Uint8Array> {
    const bytes = this.#blobs.get(hash);
    if (!bytes) throw new PrismError('missing-blob', `Blob ${hash} is not in the store.`);
    return bytes;
  }

  async put(content: Uint8Array | Content): Promise<string> {
    const bytes = content instanceof Uint8Array ? content : content.bytes();
    const hash = hashBytes(bytes);
    if (!this.#blobs.has(hash)) this.#blobs.set(hash, bytes);
    return hash;
  }

  async has(hash: string): Promise<boolean> {
    return this.#blobs.has(hash);
  }
}

export class MemoryMemo implements Memo {
  readonly #values = new Map<string, unknown>();

  async get(keys: string[]): Promise<Map<string, unknown>> {
    return new Map(keys.filter((key) => this.#values.has(key)).map((key) => [key, this.#values.get(key)]));
  }

  async set(key: string, value: unknown): Promise<void> {
    this.#values.set(key, value);
  }
}

/** Runs tasks one after the other in this thread. */
export const inlineWorkbench: Workbench = {
  width: 1,
  run: (task, input) => TASKS[task](input as never) as never,
};

/** Everything in memory and inline; parts may be replaced. */
export function memorySurroundings(parts: Partial<Surroundings> = {}): Surroundings {
  return { blobs: new MemoryBlobs(), memo: new MemoryMemo(), workbench: inlineWorkbench, progress: () => {}, ...parts };
}
