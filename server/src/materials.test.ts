// Own materials: kept for all jobs under names of their own, with pictures that a sweep leaves alone.
import { readdir, stat, utimes, writeFile, mkdir } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { libraryMaterial } from '@noble-prism/core/finish/library/library';
import { ownCopy } from '@noble-prism/core/finish/library/own';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import { TestServer } from './testing.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server?.stop());

const own = (id: string, name: string) => ownCopy(libraryMaterial('lib:oak')!, {}, `mine:${id}`, name);
const keep = (material: unknown) =>
  server.call<OwnMaterial[] & { error?: { message: string } }>('PUT', '/api/materials', material);
const names = (list: OwnMaterial[]) => list.map(({ material }) => material.name);

it('are listed, changed under their id, and deleted; two are never called alike', async () => {
  expect((await keep(own('a', 'Oak, smoked'))).status).toBe(200);
  expect(names((await keep(own('b', 'Oak, limed'))).body)).toEqual(['Oak, smoked', 'Oak, limed']);
  const darker = own('a', 'Oak, smoked');
  darker.material.baseColor = [0.1, 0.06, 0.04];
  const { body } = await keep(darker);
  expect(body[0]).toEqual(darker);
  const refused = await keep(own('c', 'Oak, limed'));
  expect([refused.status, refused.body.error?.message]).toEqual([
    422,
    'There is an own material “Oak, limed” already. Give this one another name.',
  ]);
  expect(names((await server.call<OwnMaterial[]>('DELETE', '/api/materials/mine:a')).body)).toEqual(['Oak, limed']);
  expect((await server.call('DELETE', '/api/materials/mine:a')).status).toBe(404);
});

it.each([
  [{ ...own('x', ' ') }, /needs a name/],
  [{ ...own('x', 'X'), of: 'lib:unobtainium' }, /no material “lib:unobtainium”/],
  [{ ...own('x', 'X'), material: { ...own('x', 'X').material, roughness: 3 } }, /roughness/],
  [{ ...own('x', 'X'), material: { ...own('x', 'X').material, id: 'lib:oak' } }, /mine:/],
])('are refused where something is wrong with them', async (material, message) => {
  const { status, body } = await keep(material);
  expect(status).toBe(422);
  expect(body.error?.message).toMatch(message);
});

it('keep their pictures when the disk is swept', async () => {
  const bytes = Buffer.from('a picture of a wall');
  const blob = createHash('sha256').update(bytes).digest('hex');
  const folder = join(server.dataDir, 'blobs', blob.slice(0, 2));
  await mkdir(folder, { recursive: true });
  // Where the store of the server has it: beside those that it wrote itself.
  await writeFile(join(folder, blob.slice(2)), bytes);
  const material = own('p', 'With a picture');
  delete material.of;
  material.textures = [
    { id: 't', name: 'wall.png', source: 's', state: 'found', mime: 'image/png', blob, bytes: bytes.length },
  ];
  material.material.textures = { baseColor: { texture: 't', uv: 0 } };
  await keep(material);
  const old = new Date(Date.now() - 48 * 3600_000);
  for (const name of await readdir(folder)) await utimes(join(folder, name), old, old);
  await server.call('POST', '/api/sweep');
  expect((await stat(join(folder, blob.slice(2)))).size).toBe(bytes.length);
  await server.call('DELETE', '/api/materials/mine:p');
  await server.call('POST', '/api/sweep');
  await expect(stat(join(folder, blob.slice(2)))).rejects.toThrow();
});
