/** Feature edges of a mesh: borders, creases, and lines between slots, kept for drawing. */
import { HashTable } from './hashTable.ts';
import type { Mesh } from './mesh.ts';
import { samePosition } from './weld.ts';

/** Faces that meet at more than this angle make a crease (common practice: 20 to 40 degrees). */
const CREASE = Math.cos((28 * Math.PI) / 180);

/**
 * @param mesh its positions along seams must be equal to the bit (see weld.ts)
 * @param point number per vertex, equal for vertices at one point, where that is known already
 * @returns two points (six numbers) per segment, metres
 */
export function featureEdges(
  mesh: Pick<Mesh, 'positions' | 'indices' | 'groups'>,
  point: Uint32Array = samePosition(mesh.positions),
): Float32Array {
  const { positions, indices, groups } = mesh;
  const count = indices.length / 3;
  const normals = new Float32Array(indices.length);
  const slots = new Uint16Array(count);
  for (const group of groups) slots.fill(group.slot, group.start / 3, (group.start + group.count) / 3);
  // Each undirected edge is met by the triangles around it; the first one waits here, by its half edge, for the second.
  const table = new HashTable(indices.length);
  const { heads, next } = table;
  const isPaired = new Uint8Array(indices.length);
  const out: number[] = [];
  const endOf = (half: number) => (half % 3 === 2 ? half - 2 : half + 1);
  const add = (half: number) => {
    for (const v of [indices[half], indices[endOf(half)]])
      out.push(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
  };
  const corner = new Uint32Array(indices.length);
  for (let i = 0; i < indices.length; i++) corner[i] = point[indices[i]];
  for (let t = 0; t < count; t++) {
    faceNormal(positions, indices, t, normals);
    search: for (let half = t * 3; half < t * 3 + 3; half++) {
      const a = corner[half];
      const b = corner[endOf(half)];
      if (a === b) {
        isPaired[half] = 1;
        continue;
      }
      const place = table.placeOf(Math.min(a, b), Math.max(a, b), 0);
      for (let waiting = heads[place]; waiting >= 0; waiting = next[waiting]) {
        if (isPaired[waiting]) continue;
        const from = corner[waiting];
        const to = corner[endOf(waiting)];
        if (!((from === a && to === b) || (from === b && to === a))) continue;
        isPaired[waiting] = isPaired[half] = 1;
        const other = Math.floor(waiting / 3);
        const cos =
          normals[t * 3] * normals[other * 3] +
          normals[t * 3 + 1] * normals[other * 3 + 1] +
          normals[t * 3 + 2] * normals[other * 3 + 2];
        if (cos < CREASE || slots[t] !== slots[other]) add(waiting);
        continue search;
      }
      table.add(half, place);
    }
  }
  for (let half = 0; half < indices.length; half++) if (!isPaired[half]) add(half);
  return Float32Array.from(out);
}

function faceNormal(p: Float32Array, indices: Uint32Array, t: number, out: Float32Array): void {
  const [a, b, c] = [indices[t * 3] * 3, indices[t * 3 + 1] * 3, indices[t * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  out[t * 3] = x / length;
  out[t * 3 + 1] = y / length;
  out[t * 3 + 2] = z / length;
}
