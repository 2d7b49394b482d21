/** Uploads in a folder, summed up while they arrive: when the last byte is there, the name of the blob is known. */
import { createHash } from 'node:crypto';
import type { Hash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { FileStore } from '@tus/file-store';
import { PrismError } from '@noble-prism/core/errors';
import { inWords } from '@noble-prism/node/inWords';
import { formatBytes } from '@noble-prism/core/units';

interface Sum {
  sum: Hash;
  /** Bytes that are in it. */
  bytes: number;
}

export class UploadStore extends FileStore {
  readonly #sums = new Map<string, Sum>();

  /** @throws PrismError where the disk is full or fails; what had arrived stays, and the upload goes on from there */
  override async write(stream: Readable, id: string, offset: number): Promise<number> {
    const known = offset === 0 ? { sum: createHash('sha256'), bytes: 0 } : this.#sums.get(id);
    // What was begun before the server was started anew, or broke off, is read once more at the end.
    const own = known?.bytes === offset ? known : undefined;
    this.#sums.delete(id);
    let written = offset;
    const summing = new Transform({
      transform(chunk: Buffer, _, done) {
        own?.sum.update(chunk);
        written += chunk.length;
        done(null, chunk);
      },
    });
    try {
      await pipeline(stream, summing, createWriteStream(join(this.directory, id), { flags: 'r+', start: offset }));
    } catch (error) {
      throw inWords(error);
    }
    if (own) this.#sums.set(id, { sum: own.sum, bytes: written });
    return written;
  }

  /** SHA-256 of an upload that is finished; undefined where it has to be read for it. */
  sumOf(id: string, size: number): string | undefined {
    const known = this.#sums.get(id);
    this.#sums.delete(id);
    return known?.bytes === size ? known.sum.digest('hex') : undefined;
  }

  /** Also of one whose file was moved into the store: what was noted of it goes all the same. */
  override async remove(id: string): Promise<void> {
    this.#sums.delete(id);
    await super.remove(id).catch(() => this.configstore.delete(id));
  }

  /** @throws PrismError `too-large` where the disk has no room for a file, and for what is made of it */
  async checkRoom(name: string, bytes: number): Promise<void> {
    const { bavail, bsize } = await statfs(this.directory);
    const free = bavail * bsize;
    if (bytes * ROOM <= free) return;
    throw new PrismError('too-large', `${name} has ${formatBytes(bytes)}, and the disk of the server ${formatBytes(free)} left: the file and what is made of it have no room there. Make room (Job list: clean up), and send it again.`, { file: name }); // prettier-ignore
  }
}

/** A file and the meshes that are made of it, in sizes of the file: seldom more. */
const ROOM = 2;
