/**
 * Zips of what was sent: made when one is asked for, and kept for some days, so that a download of it can be taken up again. The same
 * files are the same zip.
 */
import { randomUUID } from 'node:crypto';
import { closeSync, mkdirSync, openSync, writeSync } from 'node:fs';
import { rename, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { MemoryContent } from '@noble-prism/core/content';
import { PrismError } from '@noble-prism/core/errors';
import { hashData } from '@noble-prism/core/scene/hash';
import { ZipFile } from '@noble-prism/core/write/zip';
import type { BlobFolder } from '@noble-prism/node/blobFolder';
import { packed } from '@noble-prism/node/packer';

/** A file of a zip. */
export interface ZippedFile {
  name: string;
  blob: string;
}

export interface ZipOnDisk {
  path: string;
  length: number;
  /** The same as long as the bytes are. */
  tag: string;
}

export class Zips {
  /** Those that are being made: who asks for one of them waits for it. */
  readonly #making = new Map<string, Promise<void>>();

  constructor(
    readonly folder: string,
    readonly blobs: BlobFolder,
  ) {}

  /** @throws PrismError `too-large` where it would not fit a zip of 4 GB, `internal` where the disk takes nothing, `missing-blob` */
  async of(files: readonly ZippedFile[]): Promise<ZipOnDisk> {
    const tag = hashData(files.map(({ name, blob }) => [name, blob]));
    const path = join(this.folder, `${tag}.zip`);
    // Wanted again: young once more, so that it is kept.
    const now = new Date();
    if (!(await utimes(path, now, now).then(...KNOWN))) await this.#once(tag, () => this.#make(path, files));
    return { path, length: (await stat(path)).size, tag };
  }

  async #once(tag: string, make: () => Promise<void>): Promise<void> {
    let made = this.#making.get(tag);
    if (!made) this.#making.set(tag, (made = make().finally(() => this.#making.delete(tag))));
    await made;
  }

  /** Written whole or not at all. */
  async #make(path: string, files: readonly ZippedFile[]): Promise<void> {
    mkdirSync(this.folder, { recursive: true });
    const temporary = join(this.folder, `.${randomUUID()}`);
    const file = openSync(temporary, 'wx');
    try {
      const write = (bytes: Uint8Array) => {
        for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at);
      };
      const zip = new ZipFile({ spool: { open: () => ({ write, end: () => new MemoryContent() }) } });
      // One at a time in memory, packed on other threads.
      for (const { name, blob } of files) zip.add({ name, content: await packed(await this.blobs.get(blob)) });
      zip.end();
      await rename(temporary, path);
    } catch (error) {
      await rm(temporary, { force: true });
      if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
        throw new PrismError('internal', 'The disk of the server is full: there is no room for the zip. Take the files one by one.'); // prettier-ignore
      throw error;
    } finally {
      closeSync(file);
    }
  }
}

const KNOWN = [() => true, () => false] as const;
