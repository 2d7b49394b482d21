// Counts are checked against the sagitta: a chord over angle t on radius r deviates r (1 - cos(t/2)), so the fewest segments of
// a circle within s are ceil(π / acos(1 - s/r)). On a surface bent both ways the two directions share the deviation, and a
// grid within s takes squares of area 4 r s on a sphere of radius r: 4 π r² / (4 r s) squares of two triangles.
import { makeBaseBox, makeCylinder } from 'replicad';
import type { Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { massProperties, unpackMesh } from '../mesh/mesh.ts';
import { openEdges } from '../testing/closed.ts';
import { box, cone, cylinder, frustum, sphere, startKernel, stepOf, torus } from '../testing/solids.ts';
import { tessellate } from './tessellate.ts';

beforeAll(() => startKernel(loadKernel));

const MM = 0.001;
const round = (radius: number, sagitta: number) => Math.ceil(Math.PI / Math.acos(1 - sagitta / radius));

async function made(shape: Shape3D, chord: number, angle = Math.PI / 2) {
  const output = await tessellate({ text: await stepOf(shape), limits: { chord: chord * MM, angle } });
  return { ...output, mesh: unpackMesh(output.blob) };
}

const least: [string, () => Shape3D, (s: number) => number][] = [
  ['cylinder', () => cylinder(50, 80), (s) => 4 * round(50, s) - 4],
  ['cone', () => cone(50, 80), (s) => 2 * round(50, s) - 2],
  ['cone that is cut off', () => frustum(50, 20, 80), (s) => 2 * (round(50, s) + round(20, s)) - 4],
  ['sphere', () => sphere(40), (s) => (2 * Math.PI * 40) / s],
  ['torus', () => torus(60, 15), (s) => 2 * round(75, s / 2) * round(15, s / 2)],
];

describe.each(least)('a %s', (_, make, fewest) => {
  it.each([1, 0.3, 0.1, 0.03])('within %f mm takes at most 1.15 times the fewest triangles, closed', async (chord) => {
    const { mesh, figures } = await made(make(), chord);
    expect(figures.exact?.max).toBeLessThanOrEqual(chord * MM * 1.0001);
    expect(figures.exact?.max).toBeGreaterThan(chord * MM * 0.6);
    expect(figures.triangles).toBeLessThanOrEqual(1.15 * fewest(chord));
    expect(openEdges(mesh)).toBe(0);
  });

  it('has every triangle facing out, its normals with it', async () => {
    const { mesh } = await made(make(), 0.3);
    const { positions: p, normals: n, indices } = mesh;
    expect(massProperties(mesh).volume).toBeGreaterThan(0);
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [indices[i] * 3, indices[i + 1] * 3, indices[i + 2] * 3];
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
      const normal = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
      const mean = [0, 1, 2].map((k) => n[a + k] + n[b + k] + n[c + k]);
      const length = Math.hypot(...normal);
      if (length < 1e-14) continue;
      expect((normal[0] * mean[0] + normal[1] * mean[1] + normal[2] * mean[2]) / length / 3).toBeGreaterThan(0.8);
    }
  });
});

describe('bodies whose faces meet', () => {
  const joined: [string, () => Shape3D][] = [
    ['a box with rounded edges', () => box(40, 30, 20).fillet(4) as Shape3D],
    ['a shaft with a chamfer and a groove', () => shaft()],
    [
      'a block with countersunk holes',
      () =>
        (makeBaseBox(60, 40, 10) as Shape3D).cut(
          frustum(4, 9, 10).fuse(cylinder(4, 10).translate([15, 0, 0])) as Shape3D,
        ) as Shape3D,
    ],
  ];
  it.each(joined)('%s stays closed and within the limit', async (_, make) => {
    for (const chord of [0.3, 0.03]) {
      const { mesh, figures } = await made(make(), chord);
      expect(openEdges(mesh)).toBe(0);
      expect(figures.exact?.max).toBeLessThanOrEqual(chord * MM * 1.0001);
    }
  });

  it('leaves a face with a hole in it to the kernel', async () => {
    const ball = sphere(20).cut(cylinder(5, 60).translate([0, 0, -30])) as Shape3D;
    const { mesh, figures } = await made(ball, 0.1);
    expect(openEdges(mesh)).toBe(0);
    expect(figures.exact?.max).toBeLessThanOrEqual(0.1 * MM * 1.0001);
  });
});

function shaft(): Shape3D {
  const rod = makeCylinder(10, 60).chamfer(2, (edge) => edge.inPlane('XY', 60)) as Shape3D;
  return rod.cut(torus(10, 2).translate([0, 0, 30])) as Shape3D;
}
