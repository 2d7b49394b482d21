/** Vertices that lie on one point: which of them say the same, and where something differs, so that a seam runs there. */
import type { Mesh } from './mesh.ts';
import { gather } from './normals.ts';

/** Normals, texture coordinates and colours closer than this, value by value, are the same: files round them. */
const SAME_VALUE = 1e-4;

/** Slot per vertex. */
export function slotsOf({ positions, indices, groups }: Mesh): Uint16Array {
  const out = new Uint16Array(positions.length / 3);
  for (const { slot, start, count } of groups) for (let i = start; i < start + count; i++) out[indices[i]] = slot;
  return out;
}

/** A mesh whose vertices were told apart by point. */
export interface Pointed {
  mesh: Mesh;
  /** x, y, z per vertex, equal to the bit on one point. */
  positions: Float32Array;
  /** Number per vertex, equal for vertices on one point. */
  point: Uint32Array;
}

/** One vertex for all that agree in point, slot, normal, texture coordinates and colour; the same mesh where none do. */
export function joinVertices({ mesh, positions, point }: Pointed): Pointed {
  const same = agreement(mesh, slotsOf(mesh));
  const { normals: n } = mesh;
  const count = point.length;
  const first = new Int32Array(count).fill(-1);
  const next = new Int32Array(count);
  const now = new Uint32Array(count);
  const list = new Uint32Array(count);
  let used = 0;
  for (let v = 0; v < count; v++) {
    let found = first[point[v]];
    for (; found >= 0; found = next[found]) {
      const other = list[found];
      // Normals first: they part most of those that lie on one point.
      if (
        Math.abs(n[other * 3] - n[v * 3]) <= SAME_VALUE &&
        Math.abs(n[other * 3 + 1] - n[v * 3 + 1]) <= SAME_VALUE &&
        Math.abs(n[other * 3 + 2] - n[v * 3 + 2]) <= SAME_VALUE &&
        same(other, v)
      )
        break;
    }
    if (found < 0) {
      found = used++;
      list[found] = v;
      next[found] = first[point[v]];
      first[point[v]] = found;
    }
    now[v] = found;
  }
  if (used === count) return { mesh, positions, point };
  const kept = list.subarray(0, used);
  const joined = {
    ...mesh,
    indices: mesh.indices.map((v) => now[v]),
    positions: gather(mesh.positions, 3, kept),
    normals: gather(mesh.normals, 3, kept),
    ...(mesh.uvs ? { uvs: mesh.uvs.map((set) => gather(set, 2, kept)) } : {}),
    ...(mesh.colours ? { colours: gather(mesh.colours, 4, kept) } : {}),
  };
  return { mesh: joined, positions: gather(positions, 3, kept), point: Uint32Array.from(kept, (v) => now[point[v]]) };
}

/** 1 for vertices on points where texture coordinates, colours or slots differ. */
export function seamsOf(mesh: Mesh, point: Uint32Array, slots: Uint16Array): Uint8Array {
  // Nothing can differ.
  if (!mesh.uvs?.length && !mesh.colours && mesh.groups.length < 2) return new Uint8Array(point.length);
  const same = agreement(mesh, slots);
  const atPoint = new Uint8Array(point.length);
  for (let v = 0; v < point.length; v++) if (point[v] !== v && !same(point[v], v)) atPoint[point[v]] = 1;
  const out = new Uint8Array(point.length);
  for (let v = 0; v < point.length; v++) out[v] = atPoint[point[v]];
  return out;
}

/** Whether two vertices agree in slot, texture coordinates and colours. */
function agreement({ uvs = [], colours }: Mesh, slots: Uint16Array): (a: number, b: number) => boolean {
  const lists: [values: Float32Array, size: number][] = [];
  for (const set of uvs) lists.push([set, 2]);
  if (colours) lists.push([colours, 4]);
  return (a, b) => {
    if (slots[a] !== slots[b]) return false;
    for (const [values, size] of lists)
      for (let k = 0; k < size; k++)
        if (Math.abs(values[a * size + k] - values[b * size + k]) > SAME_VALUE) return false;
    return true;
  };
}
