/** Parts on which the pictures of their material cannot lie, since they have no texture coordinates: they show its mean colour. */
import { PART } from '../scene/nodes.ts';
import type { Scene } from '../scene/types.ts';
import type { Step } from '../steps/kinds.ts';
import { libraryMaterial } from './library/library.ts';
import { libraryId } from './library/given.ts';
import type { OwnMaterial } from './library/own.ts';

/** Ids of own materials that have pictures, as steps keep copies of them. */
function picturedOwn(steps: readonly Step[]): Set<string> {
  const own = steps.flatMap(({ on, parameters }) => (on ? ((parameters as { own?: OwnMaterial[] }).own ?? []) : []));
  return new Set(own.filter(({ of, textures }) => of !== undefined || textures.length > 0).map(({ material }) => material.id)); // prettier-ignore
}

/**
 * Rows of such parts, in their order; those whose pictures are still being made are not among them only when all work is done.
 * @param steps by which the scene was made
 */
export function withoutCoordinates({ nodes, meshes, materials: known }: Scene, steps: readonly Step[]): number[] {
  const { kind, mesh, materials: lists } = nodes.columns;
  const { words } = nodes.tables;
  const own = picturedOwn(steps);
  /** Sets of coordinates that the pictures of a material lie on. */
  const setsOf = (id: string): number => {
    const uses = Object.values(known[id]?.textures ?? {});
    if (uses.length > 0) return Math.max(...uses.map(({ uv }) => uv)) + 1;
    // It was given before there were any, so its pictures were left away.
    return libraryMaterial(libraryId(id))?.made || own.has(libraryId(id)) ? Infinity : 0;
  };
  const sets = new Map<number, number>();
  const pairs = new Map<number, boolean>();
  const out: number[] = [];
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] !== PART || mesh[row] === 0) continue;
    const pair = mesh[row] * nodes.tables.lists.length + lists[row];
    let lacks = pairs.get(pair);
    if (lacks === undefined) {
      const { slots, uvs = 0, triangles } = meshes[nodes.word('mesh', row)];
      const shown = [...nodes.tables.lists.get(lists[row])].filter((_, slot) => (slots[slot] ?? 0) > 0);
      lacks = triangles > 0 && shown.some((word) => {
        let needed = sets.get(word);
        if (needed === undefined) sets.set(word, (needed = setsOf(words.get(word))));
        return needed > uvs;
      }); // prettier-ignore
      pairs.set(pair, lacks);
    }
    if (lacks) out.push(row);
  }
  return out;
}
