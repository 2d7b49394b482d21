/** Triangles by their slots: which slot each has, and a mesh whose triangles stand in the order of other slots. */
import type { Mesh, MeshGroup } from './mesh.ts';

/** Slot of each triangle. */
export function slotOfTriangles({ groups, indices }: Mesh): Int32Array {
  const out = new Int32Array(indices.length / 3);
  for (const { slot, start, count } of groups) out.fill(slot, start / 3, (start + count) / 3);
  return out;
}

/** Triangles in the order of their slots, otherwise as they were. */
export function sortedBySlot({ indices }: Mesh, slotOf: Int32Array, slots: number): Pick<Mesh, 'indices' | 'groups'> {
  const counts = new Uint32Array(slots);
  for (const slot of slotOf) counts[slot]++;
  const groups: MeshGroup[] = [];
  const next = new Uint32Array(slots);
  let start = 0;
  for (let slot = 0; slot < slots; slot++) {
    next[slot] = start;
    if (counts[slot] > 0) groups.push({ slot, start: start * 3, count: counts[slot] * 3 });
    start += counts[slot];
  }
  const out = new Uint32Array(indices.length);
  for (let triangle = 0; triangle < slotOf.length; triangle++) {
    const to = next[slotOf[triangle]]++ * 3;
    for (let k = 0; k < 3; k++) out[to + k] = indices[triangle * 3 + k];
  }
  return { indices: out, groups };
}
