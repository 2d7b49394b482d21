/** Triangles on round bodies against the fewest that the sagitta formula allows; see core/src/solid/rows.test.ts for the formulas. */
import { loadKernel } from '@noble-prism/node/loadKernel';
import { tessellate } from '@noble-prism/core/solid/tessellate';
import { cone, cylinder, frustum, sphere, startKernel, stepOf, torus } from '@noble-prism/core/testing/solids';
import { print } from './report.ts';

await startKernel(loadKernel);
const round = (radius: number, sagitta: number) => Math.ceil(Math.PI / Math.acos(1 - sagitta / radius));

const bodies = [
  ['Cylinder', cylinder(50, 80), (s: number) => 4 * round(50, s) - 4],
  ['Cone', cone(50, 80), (s: number) => 2 * round(50, s) - 2],
  ['Cut cone', frustum(50, 20, 80), (s: number) => 2 * (round(50, s) + round(20, s)) - 4],
  ['Sphere', sphere(40), (s: number) => (2 * Math.PI * 40) / s],
  ['Torus', torus(60, 15), (s: number) => 2 * round(75, s / 2) * round(15, s / 2)],
] as const;

for (const [name, body, fewest] of bodies) {
  const text = await stepOf(body);
  const ratios: number[] = [];
  for (const chord of [1, 0.3, 0.1, 0.03]) {
    const { figures } = await tessellate({ text, limits: { chord: chord / 1000, angle: Math.PI / 2 } });
    ratios.push(figures.triangles / fewest(chord));
  }
  const value = Math.max(...ratios);
  print({ name: `Triangles, ${name}`, value, unit: 'times the fewest', aim: { most: 1.15 } });
}
