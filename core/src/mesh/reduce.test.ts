// Reduction by quadric error (Garland and Heckbert 1997); distances in both directions as in Cignoni, Rocchini and Scopigno 1998.
import { describe, expect, it } from 'vitest';
import { ballMesh, boxMesh, squareMesh } from '../testing/meshes.ts';
import { measureDeviation } from './deviation.ts';
import { massProperties, packMesh, unpackMesh } from './mesh.ts';
import { reduce } from './reduce.ts';
import { samePosition } from './weld.ts';

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
    const { max, mean } = measureDeviation(ballMesh(1, 96), ballMesh(1.1, 96));
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
    const { max } = measureDeviation(ballMesh(radius, 128), ballMesh(radius, rings), { samples: 20_000 });
    const sagitta = radius * (1 - Math.cos(Math.PI / rings / 2));
    expect(max).toBeGreaterThan(sagitta * 0.9);
    // The middle of a square cell lies deeper than the middle of its side, at most twice as deep.
    expect(max).toBeLessThan(sagitta * 2.1);
  });

  it('is the same each time', () => {
    const measure = () => measureDeviation(ballMesh(1, 20), ballMesh(1, 9));
    expect(measure()).toEqual(measure());
  });
});

describe('reducing', () => {
  it.each([0.5, 0.2, 0.05])('a ball to the share %f keeps about that many triangles, and its volume', async (share) => {
    const ball = ballMesh(0.1, 48);
    const { figures, deviation } = await reduce({ blob: packMesh(ball), target: { until: 'share', share } });
    const kept = figures.triangles / (ball.indices.length / 3);
    expect(kept).toBeLessThanOrEqual(share * 1.02);
    expect(kept).toBeGreaterThan(share * 0.85);
    expect(figures.volume / massProperties(ball).volume).toBeGreaterThan(0.9);
    expect(deviation.max).toBeGreaterThan(deviation.mean);
    expect(deviation.max).toBeLessThan(0.02);
  });

  it.each([0.001, 0.0003])('a ball within %f m never exceeds it, measured anew', async (allowed) => {
    const ball = ballMesh(0.1, 64);
    const { blob, figures, deviation } = await reduce({
      blob: packMesh(ball),
      target: { until: 'deviation', deviation: allowed },
    });
    expect(deviation.max).toBeLessThanOrEqual(allowed);
    expect(figures.triangles).toBeLessThan(ball.indices.length / 3);
    // With other sample points than those that the reduction looked at.
    expect(measureDeviation(ball, unpackMesh(blob), { samples: 30_011 }).max).toBeLessThan(allowed * 1.15);
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
    const fine = ballMesh(0.1, 64);
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
