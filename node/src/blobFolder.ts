/** Blobs in a folder: each under the SHA-256 of its content, written whole or not at all. */
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { access, mkdir, open, readFile, rename, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import type { Content } from '@noble-prism/core/content';
import { PrismError } from '@noble-prism/core/errors';
import type { BlobStore } from '@noble-prism/core/surroundings';
import { inWords, isMissing } from './inWords.ts';

const HASH = /^[0-9a-f]{64}$/;
const KNOWN = [() => true, () => false] as const;

export class BlobFolder implements BlobStore {
  constructor(readonly folder: string) {}

  /** Path of a blob. @throws PrismError `missing-blob` for anything that is not a hash, so that no path can be smuggled in */
  pathOf(hash: string): string {
    if (!HASH.test(hash)) throw new PrismError('missing-blob', 'That is not the name of a blob.');
    return join(this.folder, hash.slice(0, 2), hash.slice(2));
  }

  async get(hash: string): Promise<Uint8Array> {
    try {
      const buffer = await readFile(this.pathOf(hash));
      return new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.length);
    } catch (error) {
      throw isMissing(error) ? missing(hash) : inWords(error);
    }
  }

  /** Where a blob lies, and how long it is. @throws PrismError `missing-blob` */
  async fileOf(hash: string): Promise<{ path: string; length: number }> {
    const path = this.pathOf(hash);
    const info = await stat(path).catch((error: unknown) => {
      throw isMissing(error) ? missing(hash) : inWords(error);
    });
    if (!info.isFile()) throw missing(hash);
    return { path, length: info.size };
  }

  async has(hash: string): Promise<boolean> {
    try {
      await access(this.pathOf(hash));
      return true;
    } catch (error) {
      // A disk that fails has not lost the blob: it would be made again for nothing.
      if (isMissing(error)) return false;
      throw inWords(error);
    }
  }

  /**
   * Takes a file of the same disk into the store: it is moved into place, not copied.
   * @param hash of its content, where that is known; it is read for it otherwise, a piece at a time
   */
  async take(file: string, hash?: string): Promise<string> {
    try {
      const name = hash ?? (await hashOfFile(file));
      const path = this.pathOf(name);
      const now = new Date();
      if (await utimes(path, now, now).then(...KNOWN)) {
        await rm(file, { force: true });
        return name;
      }
      const handle = await open(file, 'r+');
      try {
        await handle.sync();
      } finally {
        await handle.close();
      }
      await mkdir(join(this.folder, name.slice(0, 2)), { recursive: true });
      await utimes(file, now, now);
      await rename(file, path);
      return name;
    } catch (error) {
      throw inWords(error);
    }
  }

  async put(content: Uint8Array | Content): Promise<string> {
    const pieces = () => (content instanceof Uint8Array ? [content] : content.pieces());
    const sum = createHash('sha256');
    for (const piece of pieces()) sum.update(piece);
    const hash = sum.digest('hex');
    const path = this.pathOf(hash);
    // Wanted again: young once more, so that no sweep takes it before what refers to it is written.
    const now = new Date();
    if (await utimes(path, now, now).then(...KNOWN)) return hash;
    const folder = join(this.folder, hash.slice(0, 2));
    await mkdir(folder, { recursive: true });
    const temporary = join(folder, `.${randomUUID()}`);
    try {
      const handle = await open(temporary, 'wx');
      try {
        for (const piece of pieces()) await handle.writeFile(piece);
        await handle.sync();
      } finally {
        await handle.close();
      }
      await rename(temporary, path);
    } catch (error) {
      await rm(temporary, { force: true });
      throw inWords(error);
    }
    return hash;
  }
}

const missing = (hash: string) => new PrismError('missing-blob', `Blob ${hash.slice(0, 12)}… is not in the store.`);

/** SHA-256 of a file, which is never whole in memory; others have their turn between its pieces. */
export async function hashOfFile(path: string): Promise<string> {
  const sum = createHash('sha256');
  for await (const piece of createReadStream(path, { highWaterMark: 1 << 20 })) sum.update(piece as Buffer);
  return sum.digest('hex');
}
