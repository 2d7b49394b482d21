// Reduction by quadric error (Garland and Heckbert 1997); distances in both directions as in Cignoni, Rocchini and Scopigno 1998.
import { MeshoptSimplifier } from 'meshoptimizer/simplifier';
import { beforeAll, describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import { denseDeviation } from '../testing/denseDeviation.ts';
import { ballMesh, boxMesh, looseCube, squareMesh } from '../testing/meshes.ts';
import { readOnce } from '../testing/reading.ts';
import { measureDeviation } from './deviation.ts';
import { massProperties, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { reduce, reduceToShare } from './reduce.ts';
import { samePosition } from './weld.ts';

// The library's compiled code is there a moment after it was loaded.
beforeAll(() => MeshoptSimplifier.ready);

describe('measured deviation', () => {
  it('of a mesh from itself is nothing', () => {
    const ball = ballMesh(1, 12);
    expect(measureDeviation(ball, ball).max).toBeLessThan(1e-6);
  });

  it('between parallel planes is their distance, as maximum and as mean', () => {
    const { max, mean } = measureDeviation(squareMesh(1, 4), squareMesh(1, 3, 0.02));
    expect(max).toBeCloseTo(0.02, 6);
    expect(mean).toBeCloseTo(0.02, 6);
  });

  it('between concentric spheres is the difference of their radii', () => {
    const { max, mean } = measureDeviation(ballMesh(1, 36), ballMesh(1.1, 36));
    expect(mean).toBeCloseTo(0.1, 3);
    expect(max).toBeLessThan(0.102);
  });

  it('is two-sided: a missing half is found from the side that has it', () => {
    const whole = squareMesh(1, 2);
    const half = { ...whole, indices: whole.indices.slice(0, 12) };
    expect(measureDeviation(half, whole).max).toBeCloseTo(0.5, 2);
    expect(measureDeviation(whole, half).max).toBeCloseTo(0.5, 2);
  });

  it('of a coarse sphere is the sagitta of its triangles', () => {
    const [radius, rings] = [1, 8];
    const { max } = measureDeviation(ballMesh(radius, 64), ballMesh(radius, rings));
    const sagitta = radius * (1 - Math.cos(Math.PI / rings / 2));
    expect(max).toBeGreaterThan(sagitta * 0.9);
    // The middle of a square cell lies deeper than the middle of its side, at most twice as deep.
    expect(max).toBeLessThan(sagitta * 2.1);
  });

  it('finds a single spike between all even samples, on either side', () => {
    const flat = squareMesh(1, 30);
    const spiked = { ...flat, positions: flat.positions.slice() };
    spiked.positions[437 * 3 + 1] += 0.003;
    expect(measureDeviation(flat, spiked, { samples: 50 }).max).toBeCloseTo(0.003, 5);
    expect(measureDeviation(spiked, flat, { samples: 50 }).max).toBeCloseTo(0.003, 5);
  });

  it('finds the middle of a wall whose corners all lie on one of two decks', () => {
    // A square at the foot of the wall, and one at its top.
    const positions = Float32Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]);
    const deck = (z: number) => positions.map((value, i) => (i % 3 === 2 ? z : value));
    const indices = Uint32Array.from([0, 1, 2, 0, 2, 3]);
    const wall = { positions: Float32Array.from([0, 0, 0, 1, 0, 0, 1, 0, 1, 0, 0, 1]), indices };
    const both = {
      positions: Float32Array.from([...deck(0), ...deck(1)]),
      indices: Uint32Array.from([...indices, ...indices.map((i) => i + 4)]),
    };
    // Every corner of the wall lies on one of the decks, and its middle is half a metre from both.
    const half = measureDeviation({ ...wall }, both, { samples: 1 }).max;
    expect(half).toBeGreaterThan(0.49);
  });

  const DENSE = 'of %s is exceeded by no more than 5 % by an independent measurement ten times as dense';
  it.each([['STL/Spider_binary.stl', [0.1]] as const])(DENSE, exceedsByLittle);
  atLength.each(
    ['STL/Spider_binary.stl', 'STL/Wuson.stl', 'OBJ/WusonOBJ.obj', 'PLY/Wuson.ply'].map(
      (path) => [path, [0.5, 0.1]] as const,
    ),
  )(DENSE, exceedsByLittle);

  async function exceedsByLittle(path: string, shares: readonly number[]): Promise<void> {
    const { scene, blobs } = await readOnce(path);
    const mesh = unpackMesh(await blobs.get(Object.keys(scene.meshes)[0]));
    for (const share of shares) {
      const left = reduceToShare(mesh, share).mesh as Mesh;
      expect(denseDeviation(mesh, left, 25_000)).toBeLessThan(measureDeviation(mesh, left).max * 1.05);
    }
  }

  it('stops where more than enough was found', () => {
    const [fine, coarse] = [ballMesh(1, 36), ballMesh(1, 6)];
    const { max } = measureDeviation(fine, coarse, { enough: 0.001 });
    expect(max).toBeGreaterThan(0.001);
    expect(max).toBeLessThanOrEqual(measureDeviation(fine, coarse).max);
  });

  it('is the same each time', () => {
    const measure = () => measureDeviation(ballMesh(1, 20), ballMesh(1, 9));
    expect(measure()).toEqual(measure());
  });
});

describe('reducing', () => {
  it.each([0.5, 0.2, 0.05])('a ball to the share %f keeps about that many triangles, and its volume', async (share) => {
    const ball = ballMesh(0.1, 32);
    const { figures, deviation } = await reduce({ blob: packMesh(ball), target: { until: 'share', share } });
    const kept = figures.triangles / (ball.indices.length / 3);
    expect(kept).toBeLessThanOrEqual(share * 1.02);
    expect(kept).toBeGreaterThan(share * 0.85);
    expect(figures.volume / massProperties(ball).volume).toBeGreaterThan(0.9);
    expect(deviation.max).toBeGreaterThan(deviation.mean);
    expect(deviation.max).toBeLessThan(0.02);
  });

  const NEVER = 'a ball of %i rings within %f m never exceeds it, measured anew';
  it.each([[16, 0.002]])(NEVER, neverExceeds);
  atLength.each([
    [32, 0.001],
    [64, 0.001],
    [64, 0.0003],
  ])(NEVER, neverExceeds);

  async function neverExceeds(rings: number, allowed: number): Promise<void> {
    const ball = ballMesh(0.1, rings);
    const { blob, figures, deviation } = await reduce({
      blob: packMesh(ball),
      target: { until: 'deviation', deviation: allowed },
    });
    expect(deviation.max).toBeLessThanOrEqual(allowed);
    expect(figures.triangles).toBeLessThan(ball.indices.length / 3);
    expect(denseDeviation(ball, unpackMesh(blob), rings * 800)).toBeLessThan(allowed * 1.05);
  }

  it.each([
    ['STL/Spider_binary.stl', 0.1],
    ['STL/Wuson.stl', 0.1],
    ['OBJ/spider.obj', 0.15],
  ])('%s to a tenth reaches it, whatever its triangles share', async (path, most) => {
    const { scene, blobs } = await readOnce(path);
    const [largest] = Object.entries(scene.meshes).sort(([, a], [, b]) => b.triangles - a.triangles);
    const blob = await blobs.get(largest[0]);
    const { figures, short } = await reduce({ blob, target: { until: 'share', share: 0.1 } });
    expect(short).toBeUndefined();
    expect(figures.triangles / largest[1].triangles).toBeLessThanOrEqual(most);
  });

  it('says why less than asked for was taken away: pictures that meet along seams', async () => {
    const { scene, blobs } = await readOnce('PLY/Wuson.ply');
    const blob = await blobs.get(Object.keys(scene.meshes)[0]);
    const seams = await reduce({ blob, target: { until: 'share', share: 0.1 } });
    expect(seams.figures.triangles / 3732).toBeLessThan(0.5);
    expect(seams.short).toMatch(/^(texture coordinates|colours) meet along seams that are kept$/);
  });

  it('takes loose, faceted triangles together without rounding what is sharp', async () => {
    const loose = looseCube(1, 12);
    const { blob, figures, deviation } = await reduce({
      blob: packMesh(loose),
      target: { until: 'share', share: 0.01 },
    });
    expect(figures.triangles).toBeLessThan(loose.indices.length / 3 / 20);
    expect(deviation.max).toBeLessThan(1e-5);
    // Normals are those of the six sides.
    const { normals } = unpackMesh(blob);
    for (let v = 0; v < normals.length; v += 3)
      expect(Math.max(...normals.subarray(v, v + 3).map(Math.abs))).toBeCloseTo(1, 4);
  });

  it('leaves a flat square with two triangles, and no deviation', async () => {
    const { figures, deviation } = await reduce({
      blob: packMesh(squareMesh(1, 20)),
      target: { until: 'share', share: 0.004 },
    });
    expect(figures.triangles).toBeLessThanOrEqual(4);
    expect(deviation.max).toBeLessThan(1e-6);
  });

  it('does not crack a mesh whose seams are a hair apart', async () => {
    const ball = ballMesh(0.1, 40);
    // The seam's doubles are moved by less than a float can hide.
    for (let v = 80; v < ball.positions.length / 3; v += 81) ball.positions[v * 3] += 1e-8;
    const { blob } = await reduce({ blob: packMesh(ball), target: { until: 'share', share: 0.2 } });
    const mesh = unpackMesh(blob);
    const point = samePosition(mesh.positions);
    const edges = new Map<string, number>();
    for (let i = 0; i < mesh.indices.length; i += 3) {
      for (let k = 0; k < 3; k++) {
        const [a, b] = [point[mesh.indices[i + k]], point[mesh.indices[i + ((k + 1) % 3)]]].sort((x, y) => x - y);
        if (a !== b) edges.set(`${a} ${b}`, (edges.get(`${a} ${b}`) ?? 0) + 1);
      }
    }
    expect([...edges.values()].filter((count) => count === 1)).toEqual([]);
  });

  it('keeps the slots, sorted, and their triangles inside', async () => {
    const mesh = boxMesh(1, 1, 1, 2);
    const { blob, figures } = await reduce({ blob: packMesh(mesh), target: { until: 'share', share: 0.999 } });
    expect(figures.slots).toEqual([6, 6]);
    expect(unpackMesh(blob).groups.map((group) => group.slot)).toEqual([0, 1]);
  });

  it('measures against the reference it is given, not against its input', async () => {
    const fine = ballMesh(0.1, 32);
    const first = await reduce({ blob: packMesh(fine), target: { until: 'share', share: 0.1 } });
    const twice = await reduce({
      blob: first.blob,
      reference: packMesh(fine),
      target: { until: 'share', share: 0.99 },
    });
    expect(twice.deviation.max).toBeGreaterThanOrEqual(first.deviation.max * 0.9);
  });

  it('gives back the mesh where nothing may be taken away', async () => {
    const blob = packMesh(ballMesh(0.1, 12));
    expect((await reduce({ blob, target: { until: 'share', share: 1 } })).blob).toEqual(blob);
    expect((await reduce({ blob, target: { until: 'deviation', deviation: 1e-9 } })).figures.triangles).toBe(528);
  });
});
