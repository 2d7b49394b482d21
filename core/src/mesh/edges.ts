/** Feature edges of a mesh: borders, creases, and lines between slots, kept for drawing. */
import type { Mesh } from './mesh.ts';
import { samePosition } from './weld.ts';

/** Faces that meet at more than this angle make a crease (common practice: 20 to 40 degrees). */
const CREASE = Math.cos((28 * Math.PI) / 180);

/**
 * @param mesh its positions along seams must be equal to the bit (see weld.ts)
 * @returns two points (six numbers) per segment, metres
 */
export function featureEdges(mesh: Pick<Mesh, 'positions' | 'indices' | 'groups'>): Float32Array {
  const { positions, indices, groups } = mesh;
  const point = samePosition(positions);
  const count = indices.length / 3;
  const normals = new Float32Array(indices.length);
  const slots = new Uint8Array(count);
  for (const group of groups) slots.fill(group.slot, group.start / 3, (group.start + group.count) / 3);
  // Each undirected edge is met by the triangles around it; the first one waits here for the second.
  const waiting = new Map<number, number>();
  const out: number[] = [];
  const vertices = positions.length / 3;
  const add = (a: number, b: number) => {
    for (const v of [a, b]) out.push(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
  };
  for (let t = 0; t < count; t++) {
    faceNormal(positions, indices, t, normals);
    for (let k = 0; k < 3; k++) {
      const a = point[indices[t * 3 + k]];
      const b = point[indices[t * 3 + ((k + 1) % 3)]];
      if (a === b) continue;
      const key = a < b ? a * vertices + b : b * vertices + a;
      const other = waiting.get(key);
      if (other === undefined) {
        waiting.set(key, t);
        continue;
      }
      waiting.delete(key);
      const cos =
        normals[t * 3] * normals[other * 3] +
        normals[t * 3 + 1] * normals[other * 3 + 1] +
        normals[t * 3 + 2] * normals[other * 3 + 2];
      if (cos < CREASE || slots[t] !== slots[other]) add(a, b);
    }
  }
  for (const key of waiting.keys()) add(Math.floor(key / vertices), key % vertices);
  return Float32Array.from(out);
}

function faceNormal(p: Float32Array, indices: Uint32Array, t: number, out: Float32Array): void {
  const [a, b, c] = [indices[t * 3] * 3, indices[t * 3 + 1] * 3, indices[t * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(x, y, z) || 1;
  out[t * 3] = x / length;
  out[t * 3 + 1] = y / length;
  out[t * 3 + 2] = z / length;
}
