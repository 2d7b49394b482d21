/** Rotations: taken out of places, and made from directions. */
import { cross, dot, normalize } from './matrix.ts';
import type { Matrix, Vector } from './matrix.ts';

/** The turn of a place without its scale; of a mirror that of its first two axes. Sixteen numbers, no translation. */
export function rotationOf(m: Matrix): Matrix {
  const x = normalize([m[0], m[1], m[2]]);
  const along = dot([m[4], m[5], m[6]], x);
  const y = normalize([m[4] - along * x[0], m[5] - along * x[1], m[6] - along * x[2]]);
  const z = cross(x, y);
  return [...x, 0, ...y, 0, ...z, 0, 0, 0, 0, 1];
}

/** The inverse of a rotation. */
export function transposed(m: Matrix): Matrix {
  return [m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, 0, 0, 0, 1];
}

/** The smallest turn that takes one direction to another (Rodrigues' formula); both of length one. */
export function rotationBetween(from: Vector, to: Vector): Matrix {
  const axis = cross(from, to);
  const cosine = dot(from, to);
  const sine = Math.hypot(...axis);
  if (sine < 1e-15) {
    if (cosine > 0) return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
    // Half a turn about whatever lies across.
    return rotationAbout(normalize(cross(from, Math.abs(from[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0])), Math.PI);
  }
  return rotationAbout([axis[0] / sine, axis[1] / sine, axis[2] / sine], Math.atan2(sine, cosine));
}

/** @param axis of length one. @param angle radians, counter-clockwise seen against the axis */
export function rotationAbout([x, y, z]: Vector, angle: number): Matrix {
  // Quarter turns are exact whole numbers: turning on and on changes nothing in the end.
  const [c, s] = [exact(Math.cos(angle)), exact(Math.sin(angle))];
  const t = 1 - c;
  return [
    t * x * x + c, t * x * y + s * z, t * x * z - s * y, 0,
    t * x * y - s * z, t * y * y + c, t * y * z + s * x, 0,
    t * x * z + s * y, t * y * z - s * x, t * z * z + c, 0,
    0, 0, 0, 1,
  ].map((value) => value + 0); // prettier-ignore
}

const exact = (value: number) => (Math.abs(value - Math.round(value)) < 1e-15 ? Math.round(value) : value);
