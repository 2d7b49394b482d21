// Checked against the formulas of solid geometry: sphere 4/3 π r³ and 4 π r², cylinder π r² h, torus 2 π² R r² and 4 π² R r
// (Pappus), hemisphere centroid 3r/8; the sagitta of a chord over angle t on radius r is r (1 - cos(t/2)).
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { massProperties, unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { samePosition } from '../mesh/weld.ts';
import { box, cylinder, hemisphere, sphere, startKernel, stepOf, torus } from '../testing/solids.ts';
import { StepText } from '../testing/stepText.ts';
import { tessellate } from './tessellate.ts';

beforeAll(() => startKernel(loadKernel));

const MM = 0.001;
const WIDE = Math.PI / 2;

async function meshOf(text: Uint8Array, chord: number, angle = WIDE): Promise<Mesh> {
  const { blob } = await tessellate({ text, limits: { chord: chord * MM, angle } });
  return unpackMesh(blob);
}

/** Largest distance of any triangle from a surface given by its distance function, millimetres; 15 points per triangle. */
function worstDeviation(mesh: Mesh, distance: (x: number, y: number, z: number) => number): number {
  let worst = 0;
  const p = mesh.positions;
  for (let i = 0; i < mesh.indices.length; i += 3) {
    for (let u = 0; u <= 4; u++) {
      for (let v = 0; u + v <= 4; v++) {
        const weights = [u / 4, v / 4, 1 - (u + v) / 4];
        const point = [0, 1, 2].map(
          (axis) => weights.reduce((sum, w, k) => sum + w * p[mesh.indices[i + k] * 3 + axis], 0) / MM,
        );
        worst = Math.max(worst, Math.abs(distance(point[0], point[1], point[2])));
      }
    }
  }
  return worst;
}

/** Fewest segments of a full circle within a sagitta: ceil(π / acos(1 - s/r)). */
const fewestSegments = (radius: number, sagitta: number) => Math.ceil(Math.PI / Math.acos(1 - sagitta / radius));

describe('chord deviation, measured from the exact surface', () => {
  it.each([1, 0.3, 0.1, 0.03])(
    'of a cylinder stays within %f mm, with as many segments as the sagitta formula asks for',
    async (chord) => {
      const [radius, height] = [50, 80];
      const mesh = await meshOf(await stepOf(cylinder(radius, height)), chord);
      const onMantle = (x: number, y: number, z: number) =>
        z > 1e-3 && z < height - 1e-3 ? radius - Math.hypot(x, y) : 0;
      expect(worstDeviation(mesh, onMantle)).toBeLessThanOrEqual(chord * 1.0001);
      const least = fewestSegments(radius, chord);
      // n segments: 2 n triangles round the mantle and n - 2 on each end.
      const segments = (mesh.indices.length / 3 + 4) / 4;
      expect(segments).toBeGreaterThanOrEqual(least);
      expect(segments).toBeLessThanOrEqual(least * 1.6);
    },
  );

  it.each([2, 0.5, 0.1])('of a sphere stays within %f mm', async (chord) => {
    const radius = 40;
    const mesh = await meshOf(await stepOf(sphere(radius)), chord);
    expect(worstDeviation(mesh, (x, y, z) => radius - Math.hypot(x, y, z))).toBeLessThanOrEqual(chord * 1.0001);
    // A sphere needs at least as many triangles as two circles of the sagitta formula span.
    expect(mesh.indices.length / 3).toBeGreaterThanOrEqual(fewestSegments(radius, chord) ** 2 / 4);
  });

  it.each([
    [60, 15, 1],
    [60, 15, 0.2],
    [60, 5, 0.2],
    [100, 40, 0.5],
    [30, 20, 0.05],
  ])('of a torus of %f and %f mm stays within %f mm', async (large, small, chord) => {
    const mesh = await meshOf(await stepOf(torus(large, small)), chord);
    expect(worstDeviation(mesh, (x, y, z) => small - Math.hypot(Math.hypot(x, y) - large, z))).toBeLessThanOrEqual(
      chord * 1.0001,
    );
  });

  it('gives way to the angle where that is the tighter limit', async () => {
    const mesh = await meshOf(await stepOf(cylinder(50, 80)), 10, Math.PI / 18);
    expect((mesh.indices.length / 3 + 4) / 4).toBeGreaterThanOrEqual(36);
  });
});

describe('volume, area and centre', () => {
  const bodies = {
    sphere: { make: () => sphere(30), volume: (4 / 3) * Math.PI * 30 ** 3, area: 4 * Math.PI * 30 ** 2, convex: true },
    cylinder: {
      make: () => cylinder(20, 50),
      volume: Math.PI * 20 ** 2 * 50,
      area: 2 * Math.PI * 20 * (20 + 50),
      convex: true,
    },
    torus: {
      make: () => torus(40, 10),
      volume: 2 * Math.PI ** 2 * 40 * 10 ** 2,
      area: 4 * Math.PI ** 2 * 40 * 10,
      convex: false,
    },
    box: { make: () => box(10, 20, 30), volume: 6000, area: 2200, convex: true },
  };
  it.each(Object.entries(bodies))('of a %s converge to the formulas', async (_, { make, volume, area, convex }) => {
    const text = await stepOf(make());
    const errors: number[] = [];
    for (const chord of [1, 0.25, 0.0625]) {
      const found = massProperties(await meshOf(text, chord, WIDE));
      const error = 1 - found.volume / (volume * MM ** 3);
      // The mesh of a convex body is inscribed: never above the solid.
      if (convex) expect(error).toBeGreaterThanOrEqual(-1e-6);
      errors.push(Math.abs(error));
      expect(Math.abs(found.area / (area * MM ** 2) - 1)).toBeLessThan(0.08 * chord + 0.003);
    }
    // A quarter of the chord deviation is a quarter of the error, as it goes with the square of the edge length.
    expect(errors[2]).toBeLessThanOrEqual(Math.max(1e-6, errors[0] / 8));
  });

  it('puts the centre of a hemisphere at three eighths of its radius', async () => {
    const { centroid } = massProperties(await meshOf(await stepOf(hemisphere(40)), 0.01));
    expect(centroid[2] / MM).toBeCloseTo((3 / 8) * 40, 1);
    expect(Math.hypot(centroid[0], centroid[1]) / MM).toBeLessThan(0.01);
  });

  it('closes the surface: every edge has two triangles, V - E + F = 2 (1 - genus)', async () => {
    for (const [shape, genus] of [
      [sphere(10), 0],
      [torus(30, 8), 1],
    ] as const) {
      const mesh = await meshOf(await stepOf(shape), 0.3);
      const point = samePosition(mesh.positions);
      const edges = new Map<string, number>();
      const corners = new Set<number>();
      let faces = 0;
      for (let i = 0; i < mesh.indices.length; i += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => point[mesh.indices[i + k]]);
        if (a === b || b === c || c === a) continue;
        faces++;
        for (const [u, v] of [
          [a, b],
          [b, c],
          [c, a],
        ]) {
          corners.add(u);
          const key = u < v ? `${u} ${v}` : `${v} ${u}`;
          edges.set(key, (edges.get(key) ?? 0) + 1);
        }
      }
      expect([...edges.values()].every((count) => count === 2)).toBe(true);
      expect(corners.size - edges.size + faces).toBe(2 * (1 - genus));
    }
  });
});

describe('what else comes out', () => {
  it('normals of length one that point out of the body', async () => {
    const mesh = await meshOf(await stepOf(sphere(25)), 0.5);
    for (let i = 0; i < mesh.positions.length; i += 3) {
      const n = mesh.normals.subarray(i, i + 3);
      const p = mesh.positions.subarray(i, i + 3);
      expect(Math.hypot(...n)).toBeCloseTo(1, 5);
      expect((n[0] * p[0] + n[1] * p[1] + n[2] * p[2]) / (25 * MM)).toBeGreaterThan(0.999);
    }
  });

  it('feature edges: the twelve of a box', async () => {
    const mesh = await meshOf(await stepOf(box(10, 20, 30)), 0.1);
    expect(mesh.edges.length / 6).toBe(12);
    expect(mesh.indices.length / 3).toBe(12);
  });

  it('triangles sorted by slot where faces differ in colour', async () => {
    const { blob, figures } = await tessellate({
      text: await stepOf(box(10, 10, 10)),
      faceSlots: [0, 1, 0, 2, 0, 1],
      limits: { chord: 0.001, angle: 0.3 },
    });
    expect(unpackMesh(blob).groups).toEqual([
      { slot: 0, start: 0, count: 18 },
      { slot: 1, start: 18, count: 12 },
      { slot: 2, start: 30, count: 6 },
    ]);
    expect(figures.slots).toEqual([6, 4, 2]);
  });

  it('one colour, and a warning, where the faces cannot be told apart', async () => {
    const { figures, warning } = await tessellate({
      text: await stepOf(box(1, 1, 1)),
      faceSlots: [0, 1],
      limits: { chord: 0.001, angle: 0.3 },
    });
    expect(figures.slots).toEqual([12]);
    expect(warning).toMatch(/colours of single faces/);
  });

  it('a warning where faces of the text were lost', async () => {
    const { warning } = await tessellate({
      text: await stepOf(box(1, 1, 1)),
      faces: 7,
      limits: { chord: 0.001, angle: 0.3 },
    });
    expect(warning).toMatch(/1 of 7 faces/);
  });

  it('the same bytes each time', async () => {
    const text = await stepOf(torus(20, 5));
    const limits = { chord: 0.0002, angle: 0.4 };
    expect((await tessellate({ text, limits })).blob).toEqual((await tessellate({ text, limits })).blob);
  });

  it.each([
    ['rubbish', new TextEncoder().encode('not a step file')],
    ['a file without a shape', new StepText().bytes()],
    [
      'a solid without faces',
      (() => {
        const step = new StepText();
        step.product('P', [step.add(`MANIFOLD_SOLID_BREP('x',#${step.add("CLOSED_SHELL('',())")})`)]);
        return step.bytes();
      })(),
    ],
  ])('an error for %s, after which the kernel goes on', async (_, text) => {
    const limits = { chord: 0.0001, angle: 0.3 };
    await expect(tessellate({ text, limits })).rejects.toMatchObject({ code: 'solid-failed' });
    expect((await tessellate({ text: await stepOf(box(1, 1, 1)), limits })).figures.triangles).toBe(12);
  });
});
