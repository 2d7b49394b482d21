// Stretch: L2 of Sander et al. 2001, of an affine map by hand. Texel density by arithmetic. Meshes by three.js.
import { BoxGeometry, PlaneGeometry, SphereGeometry, TorusKnotGeometry } from 'three';
import type { BufferGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import type { Mesh } from './mesh.ts';
import { patchesOf } from './patches.ts';
import { projected } from './project.ts';
import { unwrapped } from './unwrap.ts';
import { uvFigures } from './uvFigures.ts';

const meshOf = (geometry: BufferGeometry, uvs = true): Mesh => {
  const values = (name: string) => new Float32Array(geometry.getAttribute(name).array);
  const indices = Uint32Array.from(geometry.index?.array ?? []);
  return {
    positions: values('position'),
    normals: values('normal'),
    indices,
    groups: [{ slot: 0, start: 0, count: indices.length }],
    edges: new Float32Array(),
    ...(uvs ? { uvs: [values('uv')] } : {}),
  };
};
/** A square of one metre, seen from in front, whose coordinates are what is made of the place on it. */
const laid = (place: (x: number, y: number) => [number, number]): Mesh => {
  const mesh = meshOf(new PlaneGeometry(1, 1, 3, 3));
  const { positions: p } = mesh;
  const uv = Array.from({ length: p.length / 3 }, (_, i) => place(p[i * 3] + 0.5, 0.5 - p[i * 3 + 1]));
  return { ...mesh, uvs: [Float32Array.from(uv.flat())] };
};

describe('figures of texture coordinates', () => {
  it('of an affine map are those worked out by hand', () => {
    // Twice along x, half along y: a step of one is 0.5 m and 2 m long, sqrt((0.25 + 4) / 2) in the mean of their squares.
    const figures = uvFigures(laid((x, y) => [2 * x, 0.5 * y]))!;
    expect(figures.worst).toBeCloseTo(4, 5);
    expect(figures.stretch).toBeCloseTo(Math.sqrt(2.125), 5);
    expect(figures.perMetre.mean).toBeCloseTo(1, 6);
    expect(figures.mirrored).toBe(0);
    // Sides that run through middles of cells may be counted on both.
    expect(figures.overlap).toBeLessThan(1e-3);
    // A sheared one: singular values of (1 1; 0 1) are the golden ratio and its inverse.
    expect(uvFigures(laid((x, y) => [x + y, y]))!.worst).toBeCloseTo(((1 + Math.sqrt(5)) / 2) ** 2, 4);
    // Turned and made larger alike in all directions nothing is stretched.
    const turned = uvFigures(laid((x, y) => [3 * (0.8 * x - 0.6 * y), 3 * (0.6 * x + 0.8 * y)]))!;
    expect([turned.stretch, turned.worst, turned.perMetre.mean].map((value) => Math.round(value * 1e5) / 1e5)).toEqual([1, 1, 3]); // prettier-ignore
  });

  it('give pixels a metre by arithmetic: 2048 of them on a picture that covers four metres are 512', () => {
    const { perMetre } = uvFigures(laid((x, y) => [x / 4, y / 4]))!;
    for (const value of Object.values(perMetre)) expect(value * 2048).toBeCloseTo(512, 2);
  });

  it('tell what is mirrored, what lies outside, and what lies over something else', () => {
    expect(uvFigures(laid((x, y) => [1 - x, y]))!.mirrored).toBe(1);
    // Two of three columns of triangles end outside.
    expect(uvFigures(laid((x, y) => [x * 2, y]))!.outside).toBeCloseTo(2 / 3, 5);
    // Folded over in the middle: all of it is covered twice.
    const folded = uvFigures(laid((x, y) => [Math.abs(Math.round(x * 3) - (x > 0.5 ? 3 : 0)) / 3, y]))!;
    expect(folded.overlap).toBeGreaterThan(0.95);
    const whole = uvFigures(laid((x, y) => [x, y]))!;
    expect(whole.overlap).toBeLessThan(1e-3);
    expect(whole.used).toBeCloseTo(1, 4);
    expect(uvFigures(laid((x, y) => [x / 2, y / 4]))!.used).toBeCloseTo(1 / 8, 3);
  });

  it('of a unit cube on a box in metres: nothing is stretched, and its six sides lie over each other', () => {
    const cube = projected(meshOf(new BoxGeometry(1, 1, 1)), { projection: 'box', frame: [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0], from: 'z', turn: 0, offset: [0, 0], scale: 1 }); // prettier-ignore
    const figures = uvFigures(cube)!;
    expect([figures.perMetre.least, figures.perMetre.most, figures.stretch, figures.mirrored, figures.area]).toEqual([1, 1, 1, 0, 6]); // prettier-ignore
    expect(figures.overlap).toBe(1);
  });

  it('leave out of the stretch what is drawn out to lines, and say how much that is', () => {
    // Seen from in front, four of six sides of a cube are lines.
    const cube = projected(meshOf(new BoxGeometry(1, 1, 1)), { projection: 'plane', frame: [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0], from: 'z', turn: 0, offset: [0, 0], scale: 1 }); // prettier-ignore
    const figures = uvFigures(cube)!;
    expect(figures.collapsed).toBeCloseTo(4 / 6, 5);
    expect([figures.stretch, figures.worst]).toEqual([1, 1]);
    // What is behind shows it mirrored.
    expect(figures.mirrored).toBeCloseTo(1 / 6, 5);
    expect(uvFigures(laid((x) => [x, 0]))).toMatchObject({ collapsed: 1, stretch: 0, perMetre: { mean: 0 } });
  });

  it('are not there where there is nothing to be measured', () => {
    expect(uvFigures(meshOf(new BoxGeometry(1, 1, 1), false))).toBeUndefined();
    expect(uvFigures(meshOf(new BoxGeometry(1, 1, 1)), 1)).toBeUndefined();
  });
});

/** The least distance between pixels of two charts, measured by the picture: charts are what hangs together there. */
function leastGap(mesh: Mesh, set: number, pixels: number): number {
  const uv = mesh.uvs![set];
  const { indices } = mesh;
  // Charts by vertices that lie on one place of the picture: what is cut has vertices elsewhere.
  const places = new Map<string, number>();
  const parent = Int32Array.from({ length: uv.length / 2 }, (_, i) => i);
  const root = (i: number): number => (parent[i] === i ? i : (parent[i] = root(parent[i])));
  for (let i = 0; i < parent.length; i++) {
    const place = [uv[i * 2], uv[i * 2 + 1]].map((value) => Math.round(value * 1e5)).join();
    if (places.has(place)) parent[i] = root(places.get(place)!);
    else places.set(place, i);
  }
  for (let i = 0; i < indices.length; i += 3) for (const k of [1, 2]) parent[root(indices[i])] = root(indices[i + k]);
  const chart = new Int32Array(pixels * pixels).fill(-1);
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [uv[indices[i + k] * 2] * pixels, uv[indices[i + k] * 2 + 1] * pixels]);
    const side = (p: number[], q: number[], x: number, y: number) => (q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0]); // prettier-ignore
    for (let y = Math.floor(Math.min(a[1], b[1], c[1])); y <= Math.max(a[1], b[1], c[1]); y++)
      for (let x = Math.floor(Math.min(a[0], b[0], c[0])); x <= Math.max(a[0], b[0], c[0]); x++) {
        const sides = [side(a, b, x + 0.5, y + 0.5), side(b, c, x + 0.5, y + 0.5), side(c, a, x + 0.5, y + 0.5)];
        if (x < pixels && y < pixels && (sides.every((value) => value >= 0) || sides.every((value) => value <= 0)))
          chart[y * pixels + x] = root(indices[i]);
      }
  }
  let least = Infinity;
  const reach = 12;
  for (let y = 0; y < pixels; y++)
    for (let x = 0; x < pixels; x++)
      for (let dy = 0; dy <= reach && chart[y * pixels + x] >= 0; dy++)
        for (let dx = dy === 0 ? 1 : -reach; dx <= reach; dx++) {
          const [ox, oy] = [x + dx, y + dy];
          if (ox < 0 || ox >= pixels || oy >= pixels) continue;
          const other = chart[oy * pixels + ox];
          // Between the borders of two pixels lies one less than between their middles.
          if (other >= 0 && other !== chart[y * pixels + x]) least = Math.min(least, Math.max(Math.abs(dx), dy) - 1);
        }
  return least;
}

describe('unwrapping', () => {
  const FLAT = 'lays %s flat without overlaps, with the gap that was asked for';
  it.each<[string, BufferGeometry]>([
    ['a box', new BoxGeometry(4, 2, 0.3)],
    ['a ball', new SphereGeometry(0.5, 24, 16)],
    ['a tiny box', new BoxGeometry(1e-4, 2e-4, 1e-4)],
  ])(FLAT, isLaidFlat);
  atLength.each<[string, BufferGeometry]>([['a knot in several patches', new TorusKnotGeometry(100, 30, 160, 16)]])(
    FLAT,
    isLaidFlat,
  );

  async function isLaidFlat(_what: string, geometry: BufferGeometry): Promise<void> {
    const mesh = meshOf(geometry);
    const shares: number[] = [];
    const { mesh: made, sheet } = await unwrapped(mesh, { set: 0, pixels: 512, padding: 4 }, (share) => shares.push(share)); // prettier-ignore
    const figures = uvFigures(made)!;
    expect(figures.overlap).toBeLessThan(0.005);
    expect(figures.stretch).toBeLessThan(1.12);
    expect([figures.outside, figures.mirrored]).toEqual([0, 0]);
    expect(figures.used).toBeGreaterThan(0.25);
    // Chart beside chart the scale is one.
    expect(figures.perMetre.most / figures.perMetre.least).toBeLessThan(3);
    expect(sheet.gap).toBeGreaterThanOrEqual(4);
    expect(leastGap(made, 0, 512)).toBeGreaterThanOrEqual(4);
    expect(shares.at(-1)).toBe(0.75);
    // The same triangles in the same order: only vertices were doubled.
    expect(made.indices).toHaveLength(mesh.indices.length);
    for (let i = 0; i < mesh.indices.length; i += 97)
      for (let k = 0; k < 3; k++)
        expect(made.positions[made.indices[i] * 3 + k]).toBe(mesh.positions[mesh.indices[i] * 3 + k]);
  }

  it('keeps apart what is alike: forty equal posts lie beside each other', async () => {
    const post = meshOf(new SphereGeometry(0.1, 12, 8), false);
    const count = post.positions.length / 3;
    const many = Array.from({ length: 40 }, (_, n) => n);
    const posts: Mesh = {
      ...post,
      positions: Float32Array.from(many.flatMap((n) => [...post.positions].map((value, i) => value + (i % 3 === 0 ? n : 0)))), // prettier-ignore
      normals: Float32Array.from(many.flatMap(() => [...post.normals])),
      indices: Uint32Array.from(many.flatMap((n) => [...post.indices].map((vertex) => vertex + n * count))),
    };
    posts.groups = [{ slot: 0, start: 0, count: posts.indices.length }];
    expect(posts.indices.length / 3).toBeGreaterThan(5000);
    const { mesh: made, sheet } = await unwrapped(posts, { set: 0, pixels: 1024, padding: 2 });
    expect(sheet.charts).toBeGreaterThanOrEqual(80);
    expect(uvFigures(made)!.overlap).toBeLessThan(0.005);
  });

  it('makes a second set beside the first, and both where there was none', async () => {
    const mesh = { ...meshOf(new BoxGeometry(1, 1, 1)), trueSize: true };
    const { mesh: made, sheet } = await unwrapped(mesh, { set: 1, pixels: 256, padding: 2 });
    expect([made.uvs?.length, made.trueSize, sheet.both]).toEqual([2, true, false]);
    for (const [i, vertex] of made.indices.entries())
      for (const k of [0, 1]) expect(made.uvs![0][vertex * 2 + k]).toBe(mesh.uvs![0][mesh.indices[i] * 2 + k]);
    expect(uvFigures(made, 1)!.overlap).toBeLessThan(0.005);
    const bare = await unwrapped(meshOf(new BoxGeometry(1, 1, 1), false), { set: 1, pixels: 256, padding: 2 });
    expect([bare.mesh.uvs?.length, bare.sheet.both]).toEqual([2, true]);
    expect(bare.mesh.uvs![0]).toEqual(bare.mesh.uvs![1]);
    // A sheet in place of the first set is no length any more.
    const first = await unwrapped(mesh, { set: 0, pixels: 256, padding: 2 });
    expect([first.mesh.uvs?.length, first.mesh.trueSize]).toEqual([1, undefined]);
  });

  it('cuts into patches that hang together, each triangle in one', () => {
    const mesh = meshOf(new TorusKnotGeometry(1, 0.3, 100, 16));
    const patches = patchesOf(mesh, 500);
    const sizes = patches.map((patch) => patch.length);
    // What was left between them was given to neighbours.
    expect(Math.max(...sizes)).toBeLessThanOrEqual(600);
    expect(Math.min(...sizes)).toBeGreaterThan(500 / 16);
    const all = patches.flatMap((patch) => [...patch]).sort((a, b) => a - b);
    expect(all).toEqual(Array.from({ length: mesh.indices.length / 3 }, (_, i) => i));
  });
});
