/** Faces of a mesh: the triangles around one that belong to it, told by what they lie on or by how much neighbours turn. */
import { HashTable } from './hashTable.ts';
import type { Mesh } from './mesh.ts';
import { samePosition } from './weld.ts';

type Shape = Pick<Mesh, 'positions' | 'indices'>;

/** Number of the triangle across each half edge, -1 where there is none. */
export type Neighbours = Int32Array;

/** Edges that more than two triangles share join none of them. */
export function neighboursOf({ positions, indices }: Shape): Neighbours {
  const point = samePosition(positions);
  const out = new Int32Array(indices.length).fill(-1);
  const table = new HashTable(indices.length);
  const { heads, next } = table;
  const used = new Uint8Array(indices.length);
  const from = (half: number) => point[indices[half]];
  const to = (half: number) => point[indices[half % 3 === 2 ? half - 2 : half + 1]];
  search: for (let half = 0; half < indices.length; half++) {
    const [a, b] = [from(half), to(half)];
    if (a === b) continue;
    const place = table.placeOf(Math.min(a, b), Math.max(a, b), 0);
    for (let other = heads[place]; other >= 0; other = next[other]) {
      const [c, d] = [from(other), to(other)];
      if (!((c === a && d === b) || (c === b && d === a))) continue;
      if (++used[other] === 1) {
        out[half] = Math.floor(other / 3);
        out[other] = Math.floor(half / 3);
      } else if (out[other] >= 0) {
        // A third one: nobody knows which of them belong together.
        const met = out[other] * 3;
        for (let k = met; k < met + 3; k++) if (out[k] === Math.floor(other / 3)) out[k] = -1;
        out[other] = -1;
      }
      continue search;
    }
    table.add(half, place);
  }
  return out;
}

/**
 * Triangles that are connected with one through others that belong.
 * @param belongs whether a triangle belongs, coming from its neighbour
 */
export function regionAround(
  neighbours: Neighbours,
  seed: number,
  belongs: (triangle: number, from: number) => boolean,
): Uint32Array {
  const seen = new Set([seed]);
  const open = [seed];
  for (let triangle = open.pop(); triangle !== undefined; triangle = open.pop())
    for (let half = triangle * 3; half < triangle * 3 + 3; half++) {
      const other = neighbours[half];
      if (other < 0 || seen.has(other) || !belongs(other, triangle)) continue;
      seen.add(other);
      open.push(other);
    }
  return Uint32Array.from(seen).sort();
}

/** Unit normal of a triangle, three numbers; zeros of one without area. */
export function normalOf({ positions: p, indices }: Shape, triangle: number): [number, number, number] {
  const [a, b, c] = [indices[triangle * 3] * 3, indices[triangle * 3 + 1] * 3, indices[triangle * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(x, y, z);
  return length > 0 ? [x / length, y / length, z / length] : [0, 0, 0];
}

/** Triangles around one over edges where the mesh turns by no more than an angle, radians. */
export function smoothRegion(mesh: Shape, neighbours: Neighbours, seed: number, angle: number): Uint32Array {
  const cosine = Math.cos(angle) - 1e-9;
  return regionAround(neighbours, seed, (triangle, from) => {
    const [a, b] = [normalOf(mesh, triangle), normalOf(mesh, from)];
    // What has no area has no direction, and parts nothing.
    const isFlat = a.every((value) => value === 0) || b.every((value) => value === 0);
    return isFlat || a[0] * b[0] + a[1] * b[1] + a[2] * b[2] >= cosine;
  });
}

/** Area of some triangles, square metres, and its centre. */
export function areaOf(
  { positions: p, indices }: { positions: ArrayLike<number>; indices: ArrayLike<number> },
  triangles: Iterable<number>,
): { area: number; centre: [number, number, number] } {
  let area = 0;
  const moment: [number, number, number] = [0, 0, 0];
  for (const triangle of triangles) {
    const [a, b, c] = [indices[triangle * 3] * 3, indices[triangle * 3 + 1] * 3, indices[triangle * 3 + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const own = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    area += own;
    for (let k = 0; k < 3; k++) moment[k] += (own * (p[a + k] + p[b + k] + p[c + k])) / 3;
  }
  return area > 0
    ? { area, centre: [moment[0] / area, moment[1] / area, moment[2] / area] }
    : { area, centre: [0, 0, 0] };
}
