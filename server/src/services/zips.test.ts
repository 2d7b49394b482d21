// Zips of what was sent: the same files are the same zip, made once; what cannot be made leaves nothing.
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, stat, utimes } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, expect, it } from 'vitest';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { Zips } from './zips.ts';

const folder = await mkdtemp(join(tmpdir(), 'noble-prism-zips-'));
afterAll(() => rm(folder, { recursive: true, force: true }));
let reads = 0;
class Counted extends BlobFolder {
  override get(hash: string): Promise<Uint8Array> {
    reads++;
    return super.get(hash);
  }
}
const blobs = new Counted(join(folder, 'blobs'));
const bytes = (text: string) => new TextEncoder().encode(text);

it('are made once for all who ask, opened by another implementation, and young again when they are wanted again', async () => {
  const zips = new Zips(join(folder, 'zips'), blobs);
  const files = [
    { name: 'hall/hall.obj', blob: await blobs.put(bytes('v 0 0 0\n'.repeat(1000))) },
    { name: 'hall/Größe.txt', blob: await blobs.put(bytes('')) },
  ];
  const [one, two] = await Promise.all([zips.of(files), zips.of(files)]);
  expect(two).toEqual(one);
  expect(reads).toBe(files.length);
  expect(await readdir(join(folder, 'zips'))).toEqual([`${one.tag}.zip`]);
  const zip = new Uint8Array(await readFile(one.path));
  expect(zip).toHaveLength(one.length);
  const entries = unzipSync(zip);
  expect(Object.keys(entries)).toEqual(files.map(({ name }) => name));
  expect(entries['hall/hall.obj']).toHaveLength(8000);
  await utimes(one.path, 0, 0);
  await zips.of(files);
  expect((await stat(one.path)).mtimeMs).toBeGreaterThan(Date.now() - 60_000);
  // Under another name it is another one.
  expect((await zips.of([{ ...files[0], name: 'other.obj' }])).tag).not.toBe(one.tag);
});

it('that lack a file are refused, with nothing left behind, and made when it is there', async () => {
  const zips = new Zips(join(folder, 'lacking'), blobs);
  const late = bytes('late');
  const files = [{ name: 'late.txt', blob: createHash('sha256').update(late).digest('hex') }];
  await expect(zips.of(files)).rejects.toMatchObject({ code: 'missing-blob' });
  expect(await readdir(join(folder, 'lacking'))).toEqual([]);
  await blobs.put(late);
  expect((await zips.of(files)).length).toBeGreaterThan(0);
});
