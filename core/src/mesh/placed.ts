/** Points and normals of a mesh where it stands in another frame. */
import { determinant, invert, isIdentity } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import type { Mesh } from './mesh.ts';

/** A mesh in another frame: points in double precision where they were moved, since they may be far from the origin then. */
export interface PlacedMesh extends Omit<Mesh, 'positions' | 'edges'> {
  positions: Float32Array | Float64Array;
  edges: Float32Array | Float64Array;
}

/** A mirror turns triangles inside out: their winding is turned back. */
export function placedMesh(mesh: Mesh, place: Matrix): PlacedMesh {
  return {
    ...mesh,
    positions: doublesAt(mesh.positions, place),
    normals: normalsAt(mesh.normals, place),
    edges: doublesAt(mesh.edges, place),
    indices: determinant(place) < 0 ? turnedOver(mesh.indices) : mesh.indices,
  };
}

function turnedOver(indices: Uint32Array): Uint32Array {
  const out = indices.slice();
  for (let i = 0; i < out.length; i += 3) [out[i + 1], out[i + 2]] = [out[i + 2], out[i + 1]];
  return out;
}

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

/** The same in double precision: for what stands far from the origin. */
export function doublesAt(points: Float32Array, place: Matrix): Float32Array | Float64Array {
  if (isIdentity(place, 0)) return points;
  const out = new Float64Array(points.length);
  putPoints(points, place, out, 0);
  return out;
}

/** Writes placed points into an array, from an entry on. */
export function putPoints(from: ArrayLike<number>, m: Matrix, to: Float32Array | Float64Array, at: number): void {
  for (let i = 0; i < from.length; i += 3) {
    const [x, y, z] = [from[i], from[i + 1], from[i + 2]];
    for (let k = 0; k < 3; k++) to[at + i + k] = m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k];
  }
}

/** Normals go with the inverse, transposed (any handbook of computer graphics), and keep their length of one. */
export function putNormals(from: ArrayLike<number>, place: Matrix, to: Float32Array, at: number): void {
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
