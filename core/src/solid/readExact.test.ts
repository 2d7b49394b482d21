// Formulas of any handbook of mechanics for areas, volumes and centroids; the shapes are made by the kernel from their sizes alone.
import { makeCylinder } from 'replicad';
import type { Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { axisOf, distanceFrom, exactCircle, faceAt, normalAt } from '../measure/exactShape.ts';
import type { ExactShape } from '../measure/exactShape.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { normalize } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { box, cone, cylinder, hemisphere, sphere, startKernel, stepOf, torus } from '../testing/solids.ts';
import { readExact } from './readExact.ts';
import { tessellate } from './tessellate.ts';

beforeAll(() => startKernel(loadKernel));

const { PI } = Math;
const exact = async (shape: Shape3D, scale?: number): Promise<ExactShape> =>
  readExact({ text: await stepOf(shape), ...(scale ? { scale } : {}) });
const near = (value: number | undefined, wanted: number) =>
  expect(Math.abs((value ?? NaN) - wanted)).toBeLessThan(1e-9 * Math.max(1, Math.abs(wanted)));

describe('area, volume and centroid', () => {
  it.each([
    ['a box of 10, 20, 30', () => box(10, 20, 30), 2200, 6000, [0, 0, 15]],
    ['a cone, at a quarter of its height', () => cone(8, 20), PI * 8 * (8 + Math.hypot(8, 20)), (PI * 64 * 20) / 3, [0, 0, 5]],
    ['a hemisphere, at three eighths of its radius', () => hemisphere(9), 3 * PI * 81, (2 * PI * 729) / 3, [0, 0, (3 * 9) / 8]],
    ['a torus, by the theorems of Pappus', () => torus(20, 6), 4 * PI ** 2 * 120, 2 * PI ** 2 * 20 * 36, [0, 0, 0]],
    ['a cylinder', () => cylinder(8, 20), 2 * PI * 8 * 28, PI * 64 * 20, [0, 0, 10]],
  ] as const)('of %s', async (_, make, area, volume, [x, y, z]) => {
    const found = await exact(make().translate([11, -7, 23]) as Shape3D);
    near(found.area * 1e6, area);
    near((found.volume ?? NaN) * 1e9, volume);
    [x + 11, y - 7, z + 23].forEach((wanted, axis) => near((found.centroid?.[axis] ?? NaN) * 1e3, wanted));
    near(
      found.faces.reduce((sum, face) => sum + face.area, 0),
      found.area,
    );
  }); // prettier-ignore

  it('grow with the scale that the unit was set right by', async () => {
    const found = await exact(cylinder(8, 20), 25.4);
    near(found.volume, PI * 64 * 20 * 1e-9 * 25.4 ** 3);
    expect(found.circles.map(({ radius }) => radius)).toEqual([8e-3 * 25.4, 8e-3 * 25.4]);
  });
});

describe('axes and circles', () => {
  /** A bush: a shaft of 25 with a bore of 10, lying along (1, 2, 2). */
  const direction: Vector = [1 / 3, 2 / 3, 2 / 3];
  const bush = () =>
    makeCylinder(25, 60, [5, 6, 7], [1, 2, 2]).cut(makeCylinder(10, 60, [5, 6, 7], [1, 2, 2])) as Shape3D;

  it('tell the bore from the shaft, both about one axis', async () => {
    const { faces, circles } = await exact(bush());
    const axes = faces.flatMap((face) => axisOf(face) ?? []);
    expect(axes.map(({ radius, isHollow }) => [Math.round(radius * 1e6) / 1e3, isHollow]).sort()).toEqual([
      [10, true],
      [25, false],
    ]);
    for (const { point, direction: found } of axes) {
      near(Math.abs(found[0] * direction[0] + found[1] * direction[1] + found[2] * direction[2]), 1);
      // Its point lies on the axis: what leads there from another point of it has its direction.
      const from = [point[0] - 0.005, point[1] - 0.006, point[2] - 0.007];
      const along = from[0] * direction[0] + from[1] * direction[1] + from[2] * direction[2];
      from.forEach((value, axis) => near(value, along * direction[axis]));
    }
    expect(circles).toHaveLength(4);
    expect(circles.map(({ radius }) => Math.round(radius * 1e6) / 1e3).sort((a, b) => a - b)).toEqual([10, 10, 25, 25]);
  });

  it('are found again from a mesh of the solid, however coarse', async () => {
    const shape = bush();
    const found = await exact(shape);
    const { blob } = await tessellate({ text: await stepOf(shape), limits: { chord: 2e-3, angle: 1 } });
    const { positions: p, indices } = unpackMesh(blob);
    const corner = (i: number): Vector => [p[indices[i] * 3], p[indices[i] * 3 + 1], p[indices[i] * 3 + 2]];
    const seen = new Set<unknown>();
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [corner(i), corner(i + 1), corner(i + 2)];
      const middle = a.map((_, axis) => (a[axis] + b[axis] + c[axis]) / 3) as unknown as Vector;
      const [u, v] = [b.map((x, k) => x - a[k]), c.map((x, k) => x - a[k])];
      const normal = normalize([u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]);
      const face = faceAt(found, middle, normal, 3e-3);
      expect(face).toBeDefined();
      seen.add(face);
      // All three corners lie on the face that was found, in single precision.
      for (const point of [a, b, c]) expect(distanceFrom(face!.surface, point)).toBeLessThan(1e-7);
    }
    expect(seen.size).toBe(4);
  });

  it('replace the circle that was fitted', async () => {
    const found = await exact(bush());
    const [{ centre, normal, radius }] = found.circles;
    const off = { centre: [centre[0] + 1e-6, centre[1], centre[2]] as Vector, normal, radius: radius * 1.0005 };
    expect(exactCircle(found, off)).toBe(found.circles[0]);
    expect(exactCircle(found, { ...off, radius: radius * 1.1 })).toBeUndefined();
  });
});

it('has a normal and a distance for each kind of surface', async () => {
  for (const shape of [box(10, 20, 30), cylinder(8, 20), cone(8, 20), sphere(9), torus(20, 6)]) {
    const { faces } = await exact(shape.rotate(37, [3, 4, 5], [1, 2, 0.5]) as Shape3D);
    for (const { surface } of faces) {
      if (surface.kind === 'free') throw new Error('not free');
      // From a point off the surface, as far back along the normal as it is away, one is on it.
      const point: Vector = [0.0123, -0.0071, 0.0192];
      const away = distanceFrom(surface, point) ?? NaN;
      const normal = normalAt(surface, point) ?? [NaN, NaN, NaN];
      const feet = [away, -away].map((t) => distanceFrom(surface, point.map((x, k) => x + t * normal[k]) as unknown as Vector) ?? NaN);
      expect(Math.min(...feet)).toBeLessThan(1e-12);
    }
  }
}); // prettier-ignore
