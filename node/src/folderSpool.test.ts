// Files that grow on a disk: read as often as wanted, nothing left of them, and words where the disk takes nothing.
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { atLength } from '@noble-prism/core/testing/atLength';
import { hashContent, MemoryContent, memorySpool } from '@noble-prism/core/content';
import { Pieces } from '@noble-prism/core/write/pieces';
import { FolderSpool } from './folderSpool.ts';

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-spool-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const AS_MEMORY = 'holds %i numbers as memory does, whole and in pieces, and leaves nothing behind';
it.each([0, 1, 300_000])(AS_MEMORY, holdsAsMemory);
atLength.each([3_000_000])(AS_MEMORY, holdsAsMemory);

function holdsAsMemory(count: number): void {
  const spool = new FolderSpool(join(folder, 'new'));
  const [there, here] = [spool, memorySpool].map((kind) => {
    const text = new Pieces(kind);
    for (let i = 0; i < count; i++) text.whole(i);
    return text.content();
  });
  expect(there.length).toBe(here.length);
  expect(Buffer.compare(there.bytes(), here.bytes())).toBe(0);
  expect(hashContent(there)).toBe(hashContent(here));
  expect(readdirSync(join(folder, 'new'))).toEqual([]);
  spool.close();
}

it('lets thousands grow at once, each in pieces, with one handle', () => {
  const spool = new FolderSpool(folder);
  const handles = () => readdirSync('/proc/self/fd').length;
  const before = handles();
  const files = Array.from({ length: 5000 }, () => spool.open());
  for (let round = 0; round < 3; round++) for (const [i, file] of files.entries()) file.write(Uint8Array.of(i & 255, round)); // prettier-ignore
  const contents = files.map((file) => file.end());
  // Of 5000; other tests of the process have a few of their own.
  expect(handles() - before).toBeLessThan(100);
  for (const i of [0, 1, 300, 4999]) expect([...contents[i].bytes()]).toEqual([i & 255, 0, i & 255, 1, i & 255, 2]);
  spool.close();
});

it('has the SHA-256 of the standard (example of FIPS 180-4), however it is cut', () => {
  const bytes = new TextEncoder().encode('abc');
  const hash = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';
  expect(hashContent(new MemoryContent(bytes))).toBe(hash);
  expect(hashContent(new MemoryContent(bytes.subarray(0, 1), bytes.subarray(1)))).toBe(hash);
});

it('may use the buffer again once bytes are taken over', () => {
  const spool = new FolderSpool(folder);
  for (const kind of [spool, memorySpool]) {
    const file = kind.open();
    const buffer = Uint8Array.of(1, 2);
    file.write(buffer);
    buffer.fill(9);
    file.write(buffer);
    expect([...file.end().bytes()]).toEqual([1, 2, 9, 9]);
  }
  spool.close();
});

it('says where nothing could be written', () => {
  writeFileSync(join(folder, 'file'), '');
  const spool = new FolderSpool(join(folder, 'file', 'below'));
  expect(() => spool.open()).toThrow(/could not be written into .*below/);
});
