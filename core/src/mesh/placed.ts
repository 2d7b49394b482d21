/** Points and normals of a mesh where it stands in another frame. */
import { invert, isIdentity } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';

/** @returns the same array where nothing is different */
export function pointsAt(points: Float32Array, place: Matrix): Float32Array {
  if (isIdentity(place, 0)) return points;
  const out = new Float32Array(points.length);
  putPoints(points, place, out, 0);
  return out;
}

/** @returns the same array where nothing is different */
export function normalsAt(normals: Float32Array, place: Matrix): Float32Array {
  // A move turns nothing.
  if (isIdentity([...place.slice(0, 12), 0, 0, 0, 1], 0)) return normals;
  const out = new Float32Array(normals.length);
  putNormals(normals, place, out, 0);
  return out;
}

/** Writes placed points into an array, from an entry on. */
export function putPoints(from: Float32Array, m: Matrix, to: Float32Array, at: number): void {
  for (let i = 0; i < from.length; i += 3)
    for (let k = 0; k < 3; k++)
      to[at + i + k] = m[k] * from[i] + m[4 + k] * from[i + 1] + m[8 + k] * from[i + 2] + m[12 + k];
}

/** Normals go with the inverse, transposed (any handbook of computer graphics), and keep their length of one. */
export function putNormals(from: Float32Array, place: Matrix, to: Float32Array, at: number): void {
  const n = invert(place);
  for (let i = 0; i < from.length; i += 3) {
    const [x, y, z] = [0, 1, 2].map(
      (k) => n[k * 4] * from[i] + n[k * 4 + 1] * from[i + 1] + n[k * 4 + 2] * from[i + 2],
    );
    const length = Math.hypot(x, y, z) || 1;
    to[at + i] = x / length;
    to[at + i + 1] = y / length;
    to[at + i + 2] = z / length;
  }
}
