/** Parts of which a receiver shows a side less than there is: open ones with a material that is seen from one side only, and those turned inside out. */
import { GONE } from './nodes.ts';
import { NO_MATERIAL } from './types.ts';
import type { MeshFigures, Scene } from './types.ts';

/** The back of its faces can be seen: it is open, or its faces look inwards. */
export const hasBack = ({ open, triangles, volume }: MeshFigures): boolean =>
  triangles > 0 && (open === true || volume < 0);

/** Rows, in their order, of which faces that are seen from one side show their back. */
export function seenFromBehind({ nodes, meshes, materials }: Scene): number[] {
  const { kind, mesh, materials: lists } = nodes.columns;
  const { words } = nodes.tables;
  /** By pair of mesh and list of materials. */
  const known = new Map<number, boolean>();
  const out: number[] = [];
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE || mesh[row] === 0) continue;
    const pair = mesh[row] * nodes.tables.lists.length + lists[row];
    let isOne = known.get(pair);
    if (isOne === undefined) {
      const figures = meshes[nodes.word('mesh', row)];
      const list = nodes.tables.lists.get(lists[row]);
      const isShown = (slot: number) => (figures.slots[slot] ?? 0) > 0;
      const slots = list.length === 0 ? [NO_MATERIAL.id] : [...list].filter((_, slot) => isShown(slot)).map((word) => words.get(word)); // prettier-ignore
      isOne = hasBack(figures) && slots.some((id) => !materials[id]?.doubleSided);
      known.set(pair, isOne);
    }
    if (isOne) out.push(row);
  }
  return out;
}
