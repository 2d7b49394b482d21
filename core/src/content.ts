/** Bytes of files that are made, wherever they lie: in memory, or on a disk, where they need not be in memory as a whole. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { joinedBytes } from './bytes.ts';
import type { Hash } from './scene/types.ts';

export interface Content {
  readonly length: number;
  /** All of them: read anew each time where they lie on a disk. */
  bytes(): Uint8Array<ArrayBuffer>;
  /** One behind the other; each is good until the next one is asked for. */
  pieces(): Iterable<Uint8Array>;
}

/** Where files grow. It is handed in, so that core knows no disk. */
export interface Spool {
  open(): Spooling;
}

/** A file that grows. */
export interface Spooling {
  /** Has taken the bytes over when it returns: their buffer may be used again. */
  write(bytes: Uint8Array): void;
  end(): Content;
}

export class MemoryContent implements Content {
  #pieces: readonly Uint8Array[];
  readonly length: number;

  constructor(...pieces: readonly Uint8Array[]) {
    this.#pieces = pieces;
    this.length = pieces.reduce((sum, piece) => sum + piece.length, 0);
  }

  bytes(): Uint8Array<ArrayBuffer> {
    if (this.#pieces.length !== 1) this.#pieces = [joinedBytes(this.#pieces)];
    return this.#pieces[0] as Uint8Array<ArrayBuffer>;
  }

  pieces(): Iterable<Uint8Array> {
    return this.#pieces;
  }
}

/** Files that stay in memory. */
export const memorySpool: Spool = {
  open() {
    const pieces: Uint8Array[] = [];
    return {
      write: (bytes) => void pieces.push(bytes.slice()),
      end: () => new MemoryContent(...pieces),
    };
  },
};

const known = new WeakMap<Content, Hash>();

/** SHA-256 of a content; looked through once. */
export function hashContent(content: Content): Hash {
  let hash = known.get(content);
  if (hash === undefined) {
    const sum = sha256.create();
    for (const piece of content.pieces()) sum.update(piece);
    known.set(content, (hash = bytesToHex(sum.digest())));
  }
  return hash;
}
