// A triangle mesh that is divided conformingly stays closed and keeps its area and volume; so says Euler-Poincaré,
// V - E + F = 2 (1 - genus), for what is joined as well.
import { beforeAll, describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import type { Shape3D } from 'replicad';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { massProperties, unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { openEdges } from '../testing/closed.ts';
import { box, cylinder, sphere, startKernel, stepOf, torus } from '../testing/solids.ts';
import { tessellate } from './tessellate.ts';

beforeAll(() => startKernel(loadKernel));

const MM = 0.001;

async function made(shape: Shape3D, limits: { chord?: number; longest?: number; shortest?: number }) {
  const { chord = 0.05, longest, shortest } = limits;
  const { blob, figures } = await tessellate({
    text: await stepOf(shape),
    limits: {
      chord: chord * MM,
      angle: 1.5,
      ...(longest ? { longest: longest * MM } : {}),
      ...(shortest ? { shortest: shortest * MM } : {}),
    },
  });
  return { mesh: unpackMesh(blob), figures };
}

/** Lengths of all edges, millimetres. */
function edgeLengths({ positions: p, indices }: Mesh): number[] {
  return [...indices].map((a, i) => {
    const b = indices[i % 3 === 2 ? i - 2 : i + 1];
    return Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]) / MM;
  });
}

describe('the largest edge', () => {
  it.each([
    ['box', () => box(100, 60, 20)],
    ['torus', () => torus(40, 12)],
    ['cylinder', () => cylinder(10, 200)],
  ])('of a %s is kept, and neither shape nor closedness is touched', async (_, make) => {
    const before = await made(make(), { chord: 0.5 });
    const { mesh, figures } = await made(make(), { chord: 0.5, longest: 7 });
    expect(Math.max(...edgeLengths(mesh))).toBeLessThanOrEqual(7.0001);
    expect(openEdges(mesh)).toBe(0);
    expect(massProperties(mesh).volume / massProperties(before.mesh).volume).toBeCloseTo(1, 5);
    expect(figures.area / before.figures.area).toBeCloseTo(1, 5);
    expect(figures.exact?.max).toBeLessThanOrEqual((before.figures.exact?.max ?? 0) * 1.0001);
    expect(figures.uvs).toBe(1);
  });

  it('larger than every edge changes nothing', async () => {
    const before = await made(box(10, 10, 10), {});
    expect((await made(box(10, 10, 10), { longest: 50 })).figures).toEqual(before.figures);
  });
});

describe('the smallest edge', () => {
  type Body = [what: string, make: () => Shape3D, characteristic: number];
  const THINS_OUT = 'thins out a %s and leaves it closed';
  it.each<Body>([
    ['ball', () => sphere(20), 2],
    ['box with rounded edges', () => box(40, 30, 20).fillet(3) as Shape3D, 2],
  ])(THINS_OUT, thinsOut);
  atLength.each<Body>([['torus', () => torus(30, 8), 0]])(THINS_OUT, thinsOut);

  async function thinsOut(...[, make, characteristic]: Body): Promise<void> {
    const before = await made(make(), { chord: 0.02 });
    const { mesh, figures } = await made(make(), { chord: 0.02, shortest: 3 });
    expect(figures.triangles).toBeLessThan(before.figures.triangles * 0.7);
    expect(openEdges(mesh)).toBe(0);
    const short = edgeLengths(mesh).filter((length) => length < 3).length;
    const shortBefore = edgeLengths(before.mesh).filter((length) => length < 3).length;
    expect(short).toBeLessThan(shortBefore * 0.3);
    // The deviation that it costs is measured and said, and stays near what edges of this length have: e² / 8r.
    expect(figures.exact?.max).toBeGreaterThan(before.figures.exact?.max ?? 0);
    expect(figures.exact?.max).toBeLessThan(1.5 * MM);
    expect(characteristicOf(mesh)).toBe(characteristic);
    expect(massProperties(mesh).volume / massProperties(before.mesh).volume).toBeGreaterThan(0.9);
  }

  it('never removes a corner: a small box stays a box', async () => {
    const { figures } = await made(box(1, 1, 1), { shortest: 10 });
    expect(figures.triangles).toBe(12);
    expect(figures.volume).toBeCloseTo(1e-9, 14);
  });
});

/** V - E + F of the points in space. */
function characteristicOf({ positions, indices }: Mesh): number {
  const name = (vertex: number) => [0, 1, 2].map((k) => positions[vertex * 3 + k].toFixed(6)).join(' ');
  const points = new Set<string>();
  const edges = new Set<string>();
  let faces = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const corners = [0, 1, 2].map((k) => name(indices[i + k]));
    if (new Set(corners).size < 3) continue;
    faces++;
    for (let k = 0; k < 3; k++) {
      points.add(corners[k]);
      edges.add([corners[k], corners[(k + 1) % 3]].sort().join('|'));
    }
  }
  return points.size - edges.size + faces;
}
