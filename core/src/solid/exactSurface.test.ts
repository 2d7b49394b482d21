// ISO 10303-42 gives the parameters of elementary surfaces; the kernel's own points are compared with the formulas here.
import { drawEllipse } from 'replicad';
import type { Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { unpackMesh } from '../mesh/mesh.ts';
import { box, cone, cylinder, frustum, sphere, startKernel, stepOf, torus } from '../testing/solids.ts';
import { exactFaces } from './faces.ts';
import { kernel, owning } from './kernel.ts';
import { tessellate, translate } from './tessellate.ts';

beforeAll(() => startKernel(loadKernel));

/** Turned and moved, so that no frame is that of the world. */
const placed = (shape: Shape3D) => shape.rotate(37, [3, 4, 5], [1, 2, 0.5]).translate([11, -7, 23]) as Shape3D;

describe.each([
  ['box', 'plane', () => box(10, 20, 30)],
  ['cylinder', 'cylinder', () => cylinder(8, 20)],
  ['cone', 'cone', () => cone(8, 20)],
  ['frustum', 'cone', () => frustum(8, 3, 20)],
  ['sphere', 'sphere', () => sphere(9)],
  ['torus', 'torus', () => torus(20, 6)],
] as const)('the surfaces of a %s', (_, kind, make) => {
  it('are found anywhere in space and agree with the kernel', async () => {
    const oc = await kernel();
    const text = await stepOf(placed(make()));
    owning((own) => {
      const faces = exactFaces(oc, translate(oc, text, own), own);
      expect(faces.map(({ surface }) => surface.kind)).toContain(kind);
      for (const { face, surface } of faces) {
        const adaptor = own(new oc.BRepAdaptor_Surface(face, false));
        for (const [u, v] of [
          [0.3, 0.2],
          [2.5, 1.1],
          [5.9, -0.8],
        ]) {
          const point = own(adaptor.EvalD0(u, v));
          const [x, y, z] = [point.X(), point.Y(), point.Z()];
          const ours = surface.at(u, v);
          expect(Math.hypot(ours[0] - x, ours[1] - y, ours[2] - z)).toBeLessThan(1e-9);
          expect(surface.distance?.(x, y, z)).toBeLessThan(1e-9);
          const normal = surface.round?.normal(u, v);
          if (!normal) continue;
          expect(Math.hypot(...normal)).toBeCloseTo(1, 9);
          const [a, b, c] = [0, 1, 2].map((k) => ours[k] + 0.25 * normal[k]);
          expect(surface.distance?.(a, b, c)).toBeCloseTo(0.25, 9);
        }
      }
    });
  });
});

describe('texture coordinates', () => {
  /** Area in the texture over area in space, per triangle; and whether u runs to the right seen from outside. */
  async function stretch(shape: Shape3D) {
    const { blob, figures } = await tessellate({ text: await stepOf(shape), limits: { chord: 2e-4, angle: 0.3 } });
    const { positions: p, indices, uvs, trueSize } = unpackMesh(blob);
    const uv = uvs?.[0] ?? new Float32Array();
    expect(trueSize && figures.trueSize).toBe(true);
    const ratios: number[] = [];
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [indices[i], indices[i + 1], indices[i + 2]];
      const e = (x: number, y: number) => [0, 1, 2].map((k) => p[y * 3 + k] - p[x * 3 + k]);
      const [u, v] = [e(a, b), e(a, c)];
      const area = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]);
      const s = (x: number, y: number) => [uv[y * 2] - uv[x * 2], uv[y * 2 + 1] - uv[x * 2 + 1]];
      const [f, g] = [s(a, b), s(a, c)];
      // v runs downwards, so what is counter-clockwise in space is clockwise here.
      if (area > 1e-10) ratios.push((f[1] * g[0] - f[0] * g[1]) / area);
    }
    return ratios;
  }

  it.each([
    ['box', () => box(100, 200, 300)],
    ['cylinder', () => cylinder(80, 200)],
    ['block with a hole', () => box(100, 100, 50).cut(cylinder(20, 60).translate([0, 0, -5])) as Shape3D],
  ])('of a %s have their true size and are not mirrored', async (_, make) => {
    for (const ratio of await stretch(placed(make()))) {
      expect(ratio).toBeGreaterThan(0.99);
      expect(ratio).toBeLessThan(1.01);
    }
  });

  it('of a sphere are true along the equator and never mirrored', async () => {
    const ratios = await stretch(placed(sphere(100)));
    expect(Math.min(...ratios)).toBeGreaterThan(0.95);
  });

  it('of a free surface are measured along its middle lines', async () => {
    const oc = await kernel();
    // A surface of extrusion: a quarter ellipse of half axes 30 and 10 mm, 50 mm high, is free for the kernel.
    const text = await stepOf(drawEllipse(30, 10).sketchOnPlane('XY').extrude(50) as Shape3D);
    owning((own) => {
      const free = exactFaces(oc, translate(oc, text, own), own).filter(({ surface }) => surface.kind === 'other');
      expect(free.length).toBeGreaterThan(0);
      for (const { surface } of free) {
        const [perU, perV] = surface.lengths([0, Math.PI / 2], [0, 10]);
        // Ramanujan 1914: perimeter of an ellipse, good to 1e-5 here.
        const h = ((30 - 10) / (30 + 10)) ** 2;
        const quarter = (Math.PI * 40 * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h)))) / 4;
        const along = Math.max(perU * (Math.PI / 2), perV * (Math.PI / 2));
        expect(Math.abs(along / quarter - 1)).toBeLessThan(0.02);
      }
    });
  });
});
