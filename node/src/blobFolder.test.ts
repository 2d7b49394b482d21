// Blobs are whole or not there: also on a disk that is full in the middle of one, and where several processes put the same.
import { mkdtemp, readdir, rm, utimes, stat, writeFile } from 'node:fs/promises';
import type * as Files from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { MemoryContent } from '@noble-prism/core/content';
import { BlobFolder } from './blobFolder.ts';

/** Bytes that the disk has room for. */
let room = Infinity;
/** What reading anything throws. */
let reading: Error | undefined;
vi.mock('node:fs/promises', async (original) => {
  const files = await original<typeof Files>();
  const failing =
    <A extends unknown[], R>(work: (...given: A) => Promise<R>) =>
    async (...given: A) => {
      if (reading) throw reading;
      return work(...given);
    };
  return {
    ...files,
    readFile: failing(files.readFile as unknown as () => Promise<Buffer>),
    stat: failing(files.stat as unknown as () => Promise<object>),
    access: failing(files.access as unknown as () => Promise<void>),
    open: async (...given: Parameters<typeof Files.open>) => {
      const handle = await files.open(...given);
      const write = handle.writeFile.bind(handle);
      handle.writeFile = async (bytes) => {
        const piece = bytes as Uint8Array;
        await write(piece.subarray(0, room));
        if (piece.length > room)
          throw Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' });
        room -= piece.length;
      };
      return handle;
    },
  };
});

let folder: string;
let blobs: BlobFolder;
beforeEach(async () => {
  room = Infinity;
  reading = undefined;
  folder = await mkdtemp(join(tmpdir(), 'noble-prism-blobs-'));
  blobs = new BlobFolder(folder);
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const bytes = (size: number, value = 7) => new Uint8Array(size).fill(value);
const files = async () => (await readdir(folder, { recursive: true, withFileTypes: true })).filter((entry) => entry.isFile()); // prettier-ignore

describe('a disk that is full', () => {
  it('keeps nothing of what does not fit, says so, and leaves what was there', async () => {
    const first = await blobs.put(bytes(100));
    room = 50;
    await expect(blobs.put(bytes(100, 8))).rejects.toMatchObject({
      code: 'internal',
      message: expect.stringContaining('The disk is full') as string,
    });
    expect(await files()).toHaveLength(1);
    expect(await blobs.get(first)).toEqual(bytes(100));
  });

  it('in the middle of many pieces leaves none of them; with room again it is stored whole', async () => {
    const content = new MemoryContent(bytes(40, 1), bytes(40, 2), bytes(40, 3));
    room = 100;
    await expect(blobs.put(content)).rejects.toThrow('The disk is full');
    expect(await files()).toEqual([]);
    room = Infinity;
    const hash = await blobs.put(content);
    expect(await blobs.get(hash)).toHaveLength(120);
  });

  it('is no matter to what is there already: it is known by its name', async () => {
    const hash = await blobs.put(bytes(100));
    room = 0;
    expect(await blobs.put(bytes(100))).toBe(hash);
  });
});

describe('a blob', () => {
  it('that several put at once is there once, and young again when it is put anew', async () => {
    const hashes = await Promise.all(Array.from({ length: 8 }, () => blobs.put(bytes(5000))));
    expect(new Set(hashes).size).toBe(1);
    expect(await files()).toHaveLength(1);
    const { path } = await blobs.fileOf(hashes[0]);
    const old = new Date(Date.now() - 48 * 3600_000);
    await utimes(path, old, old);
    await blobs.put(bytes(5000));
    expect((await stat(path)).mtimeMs).toBeGreaterThan(old.getTime() + 3600_000);
  });

  it.each(['../../etc/passwd', 'zz', '', 'A'.repeat(64)])('is never looked for under %j', async (name) => {
    await expect(blobs.get(name)).rejects.toMatchObject({ code: 'missing-blob' });
    await expect(blobs.fileOf(name)).rejects.toMatchObject({ code: 'missing-blob' });
  });
});

describe('a file that is taken', () => {
  it('is moved into place under its sum, once for all who have the same', async () => {
    const beside = await mkdtemp(join(folder, '..', 'noble-prism-take-'));
    const [one, two] = [join(beside, 'one'), join(beside, 'two')];
    for (const path of [one, two]) await writeFile(path, bytes(3_000_000));
    const hash = await blobs.take(one);
    expect(hash).toBe(await blobs.put(bytes(3_000_000)));
    expect(await blobs.take(two, hash)).toBe(hash);
    expect(await readdir(beside)).toEqual([]);
    expect(await files()).toHaveLength(1);
    await rm(beside, { recursive: true });
  });
});

describe('a disk that fails', () => {
  it.each([
    ['EMFILE', 'too many files open'],
    ['EIO', 'The disk of the server fails'],
    ['EACCES', 'may not write or read its folder'],
  ])('has not lost what it cannot read: %s', async (code, words) => {
    const hash = await blobs.put(bytes(10));
    reading = Object.assign(new Error(`${code}: bad`), { code });
    await expect(blobs.get(hash)).rejects.toMatchObject({ code: 'internal', message: expect.stringContaining(words) as string }); // prettier-ignore
    await expect(blobs.fileOf(hash)).rejects.toMatchObject({ code: 'internal' });
    await expect(blobs.has(hash)).rejects.toMatchObject({ code: 'internal' });
    reading = undefined;
    await expect(blobs.get('0'.repeat(64))).rejects.toMatchObject({ code: 'missing-blob' });
    expect(await blobs.has('0'.repeat(64))).toBe(false);
  });
});
