// Files that would be too large: what is said of their size, against files that were written.
import { describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import { ballMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { sentTo } from '../testing/sent.ts';
import { MESH_WRITERS, writerFor } from '../write/formats.ts';
import { DEFAULT_TARGET } from './targets/target.ts';
import { leastBytes, MOST_BYTES, tooLarge } from './tooLarge.ts';

/** Two balls of one shape. */
const balls = () => {
  const ball = { name: 'Ball', mesh: ballMesh(1.2345678, 80), layer: 'A', materials: ['#112233'] };
  return sceneWith([ball, ball]);
};

/** The same, if each had so many triangles. */
async function ofTriangles(triangles: number) {
  const { scene, blobs } = await balls();
  const meshes = Object.fromEntries(Object.entries(scene.meshes).map(([key, figures]) => [key, { ...figures, triangles }]));
  return { scene: { ...scene, meshes }, blobs };
} // prettier-ignore

describe('the least size of a file', () => {
  const CASES = MESH_WRITERS.flatMap(({ target, compressions = {} }) =>
    [undefined, ...Object.keys(compressions)].map((compression) => ({ target, compression })),
  );
  const NEAR = '$target $compression is not more than what is written, and not far from it';
  const isQuick = ({ target }: (typeof CASES)[number], i: number) => i % 2 === 0 && target !== 'ifc';
  it.each(CASES.filter(isQuick))(NEAR, isNear);
  atLength.each(CASES.filter((one, i) => !isQuick(one, i)))(NEAR, isNear);

  async function isNear({ target, compression }: (typeof CASES)[number]): Promise<void> {
    const { scene, blobs } = await balls();
    const settings = {
      ...DEFAULT_TARGET,
      format: target,
      ...(compression ? { compression: compression as 'meshopt' } : {}),
    };
    const { output } = await sentTo(scene, blobs, settings);
    const bytes = output.files.reduce((sum, file) => sum + file.bytes.length, 0);
    const least = leastBytes(scene, settings, writerFor(target)!);
    expect(least).toBeLessThanOrEqual(bytes);
    expect(least).toBeGreaterThan(bytes / (compression ? 10 : 1.5));
  }

  it('is that of the format: a triangle of STL has 50 bytes, and every placement is written out', async () => {
    const { scene } = await ofTriangles(30_000_000);
    expect(leastBytes(scene, { ...DEFAULT_TARGET, format: 'stl' }, writerFor('stl')!)).toBe(2 * 30_000_000 * 50);
  });
});

describe('a file that would be too large', () => {
  it('is refused before anything of it is written, with what to do instead', async () => {
    // 4.5 GB of them.
    const { scene, blobs } = await ofTriangles(45_000_000);
    const stl = { ...DEFAULT_TARGET, format: 'stl' as const };
    expect(leastBytes(scene, stl, writerFor('stl')!)).toBeGreaterThan(MOST_BYTES);
    await expect(sentTo(scene, blobs, stl)).rejects.toThrow(/STL.+about 4\.5.GB.+Split it by layer/);
    // Their shape stands once in a format that shares it.
    expect(tooLarge(scene, { ...DEFAULT_TARGET, format: 'glb' }, writerFor('glb')!)).toBeUndefined();
    // Nothing is said where the pieces are smaller.
    expect(tooLarge((await ofTriangles(40_000_000)).scene, stl, writerFor('stl')!)).toBeUndefined();
  });
});
