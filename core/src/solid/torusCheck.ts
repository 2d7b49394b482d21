/**
 * Measures how far triangles on toroidal faces lie from the exact torus. The kernel keeps its limit on planes, cylinders, cones
 * and spheres, but exceeds it on tori by up to 2.3 times; this finds out by how much, so that it can be asked again.
 */
import { facesOf } from '../read/step/shell.ts';
import { placementMatrix } from '../read/step/placement.ts';
import { Ref, scanPart21 } from '../read/step/part21.ts';
import { lengthUnitOf } from '../read/step/units.ts';
import { SOLID_TYPES } from '../read/step/structure.ts';
import { invert, transformPoint } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';

/** Frame that carries a point into the torus's own, and its two radii; millimetres. */
interface Torus {
  toOwn: Matrix;
  major: number;
  minor: number;
}

/** Tori by number of the face in the solid; empty where the text has none. */
export function toriOf(text: Uint8Array): Map<number, Torus> {
  const out = new Map<number, Torus>();
  // Most solids have none; a search in the plain text is much cheaper than a scan.
  if (!new TextDecoder('latin1').decode(text).includes('TOROIDAL_SURFACE')) return out;
  const file = scanPart21(text);
  const solid = SOLID_TYPES.flatMap((type) => [...file.ofType(type)])[0];
  const context = file.ofType('GLOBAL_UNIT_ASSIGNED_CONTEXT')[0] ?? -1;
  if (solid === undefined) return out;
  const millimetres = lengthUnitOf(file, context).metres / 0.001;
  facesOf(file, solid).forEach((face, number) => {
    // ADVANCED_FACE(name, bounds, surface, sense)
    const surface = file.args(face)[2];
    const index = surface instanceof Ref ? file.indexOf(surface.id) : -1;
    if (index < 0 || !file.is(index, 'TOROIDAL_SURFACE')) return;
    const [, position, major, minor] = file.args(index);
    const frame = position instanceof Ref ? placementMatrix(file, position.id, millimetres) : undefined;
    if (!frame || typeof major !== 'number' || typeof minor !== 'number') return;
    out.set(number, { toOwn: invert(frame), major: major * millimetres, minor: minor * millimetres });
  });
  return out;
}

/**
 * Largest distance of the triangles from their tori, measured at the middles of edges and triangles.
 * @param groups first index, count and id per face, as the kernel gives them
 * @returns millimetres
 */
export function worstOnTori(
  tori: Map<number, Torus>,
  positions: Float32Array,
  triangles: Uint32Array,
  groups: Int32Array,
): number {
  let worst = 0;
  for (const [face, { toOwn, major, minor }] of tori) {
    const first = groups[face * 3];
    for (let i = first; i < first + groups[face * 3 + 1]; i += 3) {
      const corners = [0, 1, 2].map((k) => {
        const v = triangles[i + k] * 3;
        return transformPoint(toOwn, [positions[v], positions[v + 1], positions[v + 2]]);
      });
      for (const weights of SAMPLES) {
        const [x, y, z] = [0, 1, 2].map((axis) => weights.reduce((sum, w, k) => sum + w * corners[k][axis], 0));
        worst = Math.max(worst, distanceFromTorus(Math.hypot(x, y), z, major, minor));
      }
    }
  }
  return worst;
}

/** Distance of a point at a radius and height from the surface; a tube thicker than its ring crosses the axis and has two sheets. */
function distanceFromTorus(radius: number, z: number, major: number, minor: number): number {
  const near = Math.abs(minor - Math.hypot(radius - major, z));
  return minor > major ? Math.min(near, Math.abs(minor - Math.hypot(radius + major, z))) : near;
}

const SAMPLES = [
  [0.5, 0.5, 0],
  [0, 0.5, 0.5],
  [0.5, 0, 0.5],
  [1 / 3, 1 / 3, 1 / 3],
  [0.5, 0.25, 0.25],
  [0.25, 0.5, 0.25],
  [0.25, 0.25, 0.5],
];
