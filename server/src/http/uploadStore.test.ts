// Uploads that arrive in pieces: what they are called by is known with the last byte, and never wrong where a connection broke.
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { Upload } from '@tus/server';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { UploadStore } from './uploadStore.ts';

let directory: string;
let store: UploadStore;
beforeEach(async () => {
  directory = await mkdtemp(join(tmpdir(), 'noble-prism-uploads-'));
  store = new UploadStore({ directory });
  await writeFile(join(directory, 'a'), '');
});
afterEach(() => rm(directory, { recursive: true, force: true }));

const bytes = Buffer.from(Array.from({ length: 300_000 }, (_, i) => (i * 31) % 251));
const hash = createHash('sha256').update(bytes).digest('hex');
const piece = (from: number, to: number) => Readable.from([bytes.subarray(from, to)]);

describe('an upload', () => {
  it('in pieces has the sum of the whole, and is what was sent', async () => {
    expect(await store.write(piece(0, 100_000), 'a', 0)).toBe(100_000);
    expect(await store.write(piece(100_000, 300_000), 'a', 100_000)).toBe(300_000);
    expect(store.sumOf('a', 300_000)).toBe(hash);
    expect(bytes.equals(await readFile(join(directory, 'a')))).toBe(true);
    // Told once, and then forgotten.
    expect(store.sumOf('a', 300_000)).toBeUndefined();
  });

  it('whose connection broke goes on, and is summed up by reading it', async () => {
    const breaking = new Readable({
      read() {
        this.push(bytes.subarray(0, 50_000));
        setImmediate(() => this.destroy(new Error('aborted')));
      },
    });
    await expect(store.write(breaking, 'a', 0)).rejects.toThrow('aborted');
    const { length } = await readFile(join(directory, 'a'));
    expect(await store.write(piece(length, 300_000), 'a', length)).toBe(300_000);
    // Nothing is said where it is not sure.
    expect([undefined, hash]).toContain(store.sumOf('a', 300_000));
    expect(bytes.equals(await readFile(join(directory, 'a')))).toBe(true);
  });

  it('leaves nothing behind, also where its file was moved into the store of blobs', async () => {
    await store.create(new Upload({ id: 'b', size: 3, offset: 0 }));
    expect((await readdir(directory)).sort()).toEqual(['a', 'b', 'b.json']);
    await rm(join(directory, 'b'));
    await store.remove('b');
    expect(await readdir(directory)).toEqual(['a']);
  });

  it('that the disk has no room for is refused with how much there is', async () => {
    await expect(store.checkRoom('hall.stp', 1000)).resolves.toBeUndefined();
    await expect(store.checkRoom('hall.stp', 1e18)).rejects.toMatchObject({
      code: 'too-large',
      file: 'hall.stp',
      message: expect.stringMatching(/^hall\.stp has .+, and the disk of the server .+ left: /) as string,
    });
  });
});
