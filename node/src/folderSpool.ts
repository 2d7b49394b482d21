/**
 * Files that grow on a disk. They have no names there from the moment that they are open: whatever becomes of this process, nothing of
 * them is left.
 */
import { randomUUID } from 'node:crypto';
import { closeSync, mkdirSync, openSync, readSync, unlinkSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import type { Content, Spool, Spooling } from '@noble-prism/core/content';
import { PrismError } from '@noble-prism/core/errors';

/** Bytes that are read at a time. */
const PIECE = 1 << 20;

export class FolderSpool implements Spool {
  readonly #open: number[] = [];

  /** @param folder on the disk that the files grow on; made where it is not there */
  constructor(readonly folder: string) {}

  /** @throws PrismError `internal` where the disk takes nothing, then and while it is written */
  open(): Spooling {
    const file = this.#tried(() => {
      mkdirSync(this.folder, { recursive: true });
      const path = join(this.folder, `.${randomUUID()}`);
      const opened = openSync(path, 'wx+', 0o600);
      this.#open.push(opened);
      unlinkSync(path);
      return opened;
    });
    let length = 0;
    return {
      write: (bytes) =>
        this.#tried(() => {
          for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at, bytes.length - at, length + at);
          length += bytes.length;
        }),
      end: () => new DiskContent(file, length),
    };
  }

  /** Gives the room on the disk back: what grew here is gone. */
  close(): void {
    for (const file of this.#open.splice(0)) closeSync(file);
  }

  #tried<T>(work: () => T): T {
    try {
      return work();
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      const why = code === 'ENOSPC' ? 'the disk is full' : message;
      throw new PrismError('internal', `It could not be written into ${this.folder}, where files grow: ${why}.`);
    }
  }
}

class DiskContent implements Content {
  constructor(
    readonly file: number,
    readonly length: number,
  ) {}

  bytes(): Uint8Array<ArrayBuffer> {
    const out = new Uint8Array(this.length);
    let at = 0;
    for (const piece of this.pieces()) {
      out.set(piece, at);
      at += piece.length;
    }
    return out;
  }

  *pieces(): Iterable<Uint8Array> {
    const buffer = new Uint8Array(Math.min(PIECE, this.length));
    for (let at = 0; at < this.length;) {
      const read = readSync(this.file, buffer, 0, Math.min(buffer.length, this.length - at), at);
      if (read === 0) throw new PrismError('internal', 'A file that was just written is shorter than it was.');
      yield buffer.subarray(0, read);
      at += read;
    }
  }
}
