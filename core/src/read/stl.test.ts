// The layout of binary STL: 80 bytes of title, a count, 50 bytes per facet (common knowledge of the trade; no standard body keeps it).
import { describe, expect, it } from 'vitest';
import { fileOf, readAll, warningsOf } from '../testing/reading.ts';
import { stlReader } from './stl.ts';

/** Facets of three points each. */
function binary(facets: number[][], title = 'made by a test', stated = facets.length): Uint8Array {
  const bytes = new Uint8Array(84 + facets.length * 50);
  bytes.set(new TextEncoder().encode(title).subarray(0, 80));
  const view = new DataView(bytes.buffer);
  view.setUint32(80, stated, true);
  facets.forEach((facet, t) => facet.forEach((value, i) => view.setFloat32(84 + t * 50 + 12 + i * 4, value, true)));
  return bytes;
}

/** The four faces of a corner cut off a cube: closed, so that area and volume are known. */
const CORNER = [
  [0, 0, 0, 0, 10, 0, 10, 0, 0],
  [0, 0, 0, 0, 0, 10, 0, 10, 0],
  [0, 0, 0, 10, 0, 0, 0, 0, 10],
  [10, 0, 0, 0, 10, 0, 0, 0, 10],
];

const text = (name: string, facets: number[][]) =>
  `solid ${name}\n${facets
    .map(
      (f) =>
        ` facet normal 0 0 0\n  outer loop\n${[0, 3, 6].map((i) => `   vertex ${f.slice(i, i + 3).join(' ')}\n`).join('')}  endloop\n endfacet\n`,
    )
    .join('')}endsolid ${name}\n`;

describe('STL', () => {
  it('reads binary, joins equal points, and takes millimetres where nothing is stated', async () => {
    const { scene, meshOf } = await readAll(fileOf('corner.stl', binary(CORNER)));
    const [info] = scene.sources;
    expect(info).toMatchObject({
      format: 'STL',
      schema: 'binary',
      unit: { name: 'mm', metres: 0.001, declared: false },
      up: 'z',
    });
    const mesh = await meshOf('made by a test');
    expect(mesh.indices).toHaveLength(12);
    const [figures] = Object.values(scene.meshes);
    // A pyramid: a third of base area times height.
    expect(figures.volume).toBeCloseTo(0.01 ** 3 / 6, 12);
    expect(figures.bounds.max).toEqual([0.01, 0.01, 0.01].map((v) => expect.closeTo(v, 8)));
  });

  it('reads text with several solids as several parts with their names', async () => {
    const { scene } = await readAll(
      fileOf('two.stl', text('left jaw', CORNER) + text('right jaw', CORNER.slice(0, 2))),
    );
    expect(scene.nodes.map(({ name, mesh }) => [name, scene.meshes[mesh ?? ''].triangles])).toEqual([
      ['left jaw', 4],
      ['right jaw', 2],
    ]);
  });

  it('reads the same geometry from both forms', async () => {
    const one = await readAll(fileOf('a.stl', binary(CORNER)));
    const other = await readAll(fileOf('a.stl', text('x', CORNER)));
    expect(Object.keys(one.scene.meshes)).toEqual(Object.keys(other.scene.meshes));
  });

  it('takes a binary file whose title begins with solid for binary', async () => {
    const { scene } = await readAll(fileOf('a.stl', binary(CORNER, 'solid but not text \u0001')));
    expect(scene.sources[0].schema).toBe('binary');
    expect(Object.values(scene.meshes)[0].triangles).toBe(4);
  });

  it('keeps what is there of a file whose count lies', async () => {
    const { scene } = await readAll(fileOf('a.stl', binary(CORNER, 'x', 4_000_000_000)));
    expect(warningsOf(scene)).toEqual(['truncated']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(4);
  });

  it('leaves out facets with coordinates that are no numbers, and says how many', async () => {
    const { scene } = await readAll(fileOf('a.stl', binary([...CORNER, [NaN, 0, 0, 1, 1, 1, 2, 2, Infinity]])));
    expect(warningsOf(scene)).toEqual(['bad-numbers']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(4);
  });

  it('keeps the complete triangles of a text that ends inside one', async () => {
    const whole = text('cut', CORNER);
    const { scene } = await readAll(fileOf('a.stl', whole.slice(0, whole.lastIndexOf('vertex'))));
    expect(warningsOf(scene)).toEqual(['truncated']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(3);
  });

  it.each([
    ['no facets', 'solid x\nendsolid x\n'],
    ['nothing but a title', new Uint8Array(84)],
  ])('says in words that there is nothing in %s', async (_, content) => {
    await expect(readAll(fileOf('empty.stl', content))).rejects.toMatchObject({
      code: 'no-geometry',
      message: expect.stringContaining('empty.stl') as string,
    });
  });

  it('recognises by content, not by name', () => {
    expect(stlReader.recognises(fileOf('model.dat', binary(CORNER)))).toBe(true);
    expect(stlReader.recognises(fileOf('model.stl', 'ISO-10303-21;'))).toBe(false);
  });
});
