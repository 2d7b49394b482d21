// Packages: what belongs together is found, what climbs or explodes is refused.
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { bytesOf, fileOf, readAll } from '../testing/reading.ts';
import { Companions } from './companions.ts';
import { splitPackage } from './package.ts';
import { readSource } from './readSource.ts';

const TRIANGLE = 'v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\n';

describe('packages', () => {
  it('reads a mesh with its material file and pictures out of one zip', async () => {
    const zip = zipSync({
      'bench/bench.obj': bytesOf(`mtllib bench.mtl\n${TRIANGLE}usemtl oak\nf 1/1 2/1 3/1\n`),
      'bench/bench.mtl': bytesOf('newmtl oak\nmap_Kd pictures/oak.jpg\n'),
      'bench/pictures/oak.jpg': bytesOf('x'),
      'bench/pictures/oak_gloss.jpg': bytesOf('y'),
    });
    const { scene } = await readAll(fileOf('bench.zip', zip));
    expect(scene.sources[0]).toMatchObject({ name: 'bench.zip', format: 'OBJ', bytes: zip.length });
    const states = Object.fromEntries(
      Object.values(scene.textures).map(({ name, state }) => [name.split('/').at(-1), state]),
    );
    expect(states).toEqual({ 'oak.jpg': 'found', 'oak_gloss.jpg': 'unbound' });
  });

  it('of several models is a source for each, with its own unit and up axis, in the order of the zip', async () => {
    const zip = zipSync({
      'b.stl': bytesOf(
        'solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid\n',
      ),
      'a.gltf': bytesOf('{"asset":{"version":"2.0"},"scenes":[{"nodes":[0]}],"nodes":[{"name":"n"}]}'),
      'sub/bench.obj': bytesOf(`mtllib bench.mtl\n${TRIANGLE}usemtl oak\nf 1 2 3\n`),
      'sub/bench.mtl': bytesOf('newmtl oak\n'),
      'notes.txt': bytesOf('hello'),
    });
    const split = await splitPackage(fileOf('mixed.zip', zip));
    expect(split?.ignored).toEqual(['notes.txt']);
    const sheets = [];
    for (const source of split?.sources ?? []) {
      const { sources } = (await readSource(source, 's')).survey;
      sheets.push([
        sources[0].name,
        sources[0].format,
        sources[0].unit.name,
        sources[0].up,
        sources[0].warnings.length,
      ]);
    }
    expect(sheets).toEqual([
      ['b.stl', 'STL', 'mm', 'z', 0],
      ['a.gltf', 'glTF', 'm', 'y', 0],
      ['bench.obj', 'OBJ', 'm', 'y', 0],
    ]);
  });

  it('of one model stays one source and names what of it was left out', async () => {
    const zip = zipSync({ 'a.obj': bytesOf(`${TRIANGLE}f 1 2 3\n`), 'notes.txt': bytesOf('hello') });
    expect(await splitPackage(fileOf('one.zip', zip))).toBeUndefined();
    const { scene } = await readAll(fileOf('one.zip', zip));
    expect(scene.sources[0]).toMatchObject({
      name: 'one.zip',
      warnings: [{ code: 'ignored', message: 'one.zip: 1 file that is no model was left out: notes.txt.' }],
    });
  });

  it('bears the name of its model where the page packed it', async () => {
    const zip = zipSync({ 'a.obj': bytesOf(`mtllib a.mtl\n${TRIANGLE}f 1 2 3\n`), 'a.mtl': bytesOf('newmtl m\n') });
    const { scene } = await readAll(fileOf('a.obj', zip));
    expect(scene.sources[0]).toMatchObject({ name: 'a.obj', format: 'OBJ' });
  });

  it('keeps the sound models of a package with a damaged one apart from it', async () => {
    const zip = zipSync({ 'good.obj': bytesOf(`${TRIANGLE}f 1 2 3\n`), 'bad.ply': bytesOf('ply\nformat ascii 1.0\n') });
    const split = await splitPackage(fileOf('mixed.zip', zip));
    const [good, bad] = split?.sources ?? [];
    expect(Object.keys((await readAll(fileOf(good.name, good.bytes))).scene.meshes)).toHaveLength(1);
    await expect(readAll(fileOf(bad.name, bad.bytes))).rejects.toMatchObject({ file: 'bad.ply' });
  });

  it('takes a texture set that came by itself', async () => {
    const { scene } = await readAll(
      fileOf('set.zip', zipSync({ 'brick_colour.png': bytesOf('a'), 'brick_normal.png': bytesOf('b') })),
    );
    expect(scene.nodes.length).toBe(0);
    expect(Object.values(scene.textures).map(({ state, blob }) => [state, blob !== undefined])).toEqual([
      ['unbound', true],
      ['unbound', true],
    ]);
  });

  it('says what is in a package that holds no model', async () => {
    await expect(
      readAll(fileOf('a.zip', zipSync({ 'a.docx': bytesOf('x'), 'b.xlsx': bytesOf('y') }))),
    ).rejects.toMatchObject({ message: expect.stringMatching(/docx.*xlsx/) as string });
  });

  it('refuses what unpacks to hundreds of times its size, without unpacking it', async () => {
    const bomb = zipSync({ 'a.obj': new Uint8Array(20_000_000) });
    expect(bomb.length).toBeLessThan(34_000);
    await expect(readAll(fileOf('bomb.zip', bomb))).rejects.toMatchObject({ code: 'too-large', where: 'a.obj' });
  });

  it('believes no size that a zip states', async () => {
    const zip = zipSync({ 'a.obj': bytesOf(TRIANGLE) });
    const view = new DataView(zip.buffer);
    for (let at = 0; at + 4 < zip.length; at++)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 0xfffffff0, true);
    await expect(readAll(fileOf('lie.zip', zip))).rejects.toMatchObject({
      code: expect.stringMatching(/too-large|not-readable/) as string,
    });
  });

  it('says that a damaged zip is damaged', async () => {
    const zip = zipSync({ 'a.obj': bytesOf(`${TRIANGLE}f 1 2 3\n`.repeat(50)) });
    await expect(readAll(fileOf('cut.zip', zip.subarray(0, zip.length - 30)))).rejects.toMatchObject({
      code: 'not-readable',
      message: expect.stringContaining('cut.zip') as string,
    });
  });
});

describe('files that came together', () => {
  const files = new Companions(
    new Map(['Model/bench.mtl', 'Model/Textures/Oak.PNG', 'other/oak.png'].map((path) => [path, bytesOf(path)])),
  );

  it.each([
    ['bench.mtl', 'Model/bench.obj', 'Model/bench.mtl'],
    ['textures\\oak.png', 'Model/bench.obj', 'Model/Textures/Oak.PNG'],
    ['./Textures/Oak%2EPNG', 'Model/bench.mtl', 'Model/Textures/Oak.PNG'],
    ['../other/oak.png', 'Model/bench.mtl', 'other/oak.png'],
    ['D:\\work\\OAK.png', 'Model/bench.mtl', 'Model/Textures/Oak.PNG'],
    ['/etc/passwd', 'Model/bench.mtl', undefined],
    ['../../../../bench.mtl.bak', 'Model/bench.mtl', undefined],
  ])('finds %s from %s', (reference, from, found) => {
    expect(files.find(reference, from)).toBe(found);
  });
});
