// Blobs are whole or not there: also on a disk that is full in the middle of one, and where several processes put the same.
import { mkdtemp, readdir, rm, utimes, stat } from 'node:fs/promises';
import type * as Files from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { MemoryContent } from '@noble-prism/core/content';
import { BlobFolder } from './blobFolder.ts';

/** Bytes that the disk has room for. */
let room = Infinity;
vi.mock('node:fs/promises', async (original) => {
  const files = await original<typeof Files>();
  return {
    ...files,
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
