/**
 * Files that grow on a disk, all of them in one file there, each in the stretches that it was written in: thousands may grow, and take
 * one handle. It has no name from the moment that it is open: whatever becomes of this process, nothing of it is left.
 */
import { randomUUID } from 'node:crypto';
import { closeSync, mkdirSync, openSync, readSync, unlinkSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import type { Content, Spool, Spooling } from '@noble-prism/core/content';
import { PrismError } from '@noble-prism/core/errors';

/** Bytes that are read at a time. */
const PIECE = 1 << 20;

interface Stretch {
  at: number;
  length: number;
}

export class FolderSpool implements Spool {
  #file: number | undefined;
  #end = 0;

  /** @param folder on the disk that the files grow on; made where it is not there */
  constructor(readonly folder: string) {}

  /** @throws PrismError `internal` where the disk takes nothing, then and while it is written */
  open(): Spooling {
    const file = this.#tried(() => (this.#file ??= openUnnamed(this.folder)));
    const stretches: Stretch[] = [];
    return {
      write: (bytes) => {
        const at = this.#end;
        this.#tried(() => {
          for (let done = 0; done < bytes.length;) done += writeSync(file, bytes, done, bytes.length - done, at + done);
        });
        this.#end += bytes.length;
        const last = stretches.at(-1);
        if (last && last.at + last.length === at) last.length += bytes.length;
        else if (bytes.length > 0) stretches.push({ at, length: bytes.length });
      },
      end: () => new DiskContent(file, stretches),
    };
  }

  /** Gives the room on the disk back: what grew here is gone. */
  close(): void {
    if (this.#file !== undefined) closeSync(this.#file);
    this.#file = undefined;
    this.#end = 0;
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

function openUnnamed(folder: string): number {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, `.${randomUUID()}`);
  const file = openSync(path, 'wx+', 0o600);
  unlinkSync(path);
  return file;
}

class DiskContent implements Content {
  readonly length: number;

  constructor(
    readonly file: number,
    readonly stretches: readonly Stretch[],
  ) {
    this.length = stretches.reduce((sum, { length }) => sum + length, 0);
  }

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
    for (const { at, length } of this.stretches)
      for (let done = 0; done < length;) {
        const read = readSync(this.file, buffer, 0, Math.min(buffer.length, length - done), at + done);
        if (read === 0) throw new PrismError('internal', 'A file that was just written is shorter than it was.');
        yield buffer.subarray(0, read);
        done += read;
      }
  }
}
