/** The materials of some parts in a few words, for the title block. */
import { shownName } from '@noble-prism/core/finish/plainColour';
import { PART } from '@noble-prism/core/scene/nodes';
import type { Rows } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import { materialsOf } from './ledgerColumns.ts';

/** As many are named. */
const SEVERAL = 3;
/** Pairs of mesh and list of materials that are told apart in a table; the others in a set. */
const TABLE = 65_536;

/** Words for materials, remembered for as long as nothing changes that they depend on: most steps leave that as it is. */
export class MaterialWords {
  #of: readonly unknown[] = [];
  #words = '';

  /** @param only parts that are asked about, all where absent */
  of(scene: Scene, only?: Rows): string {
    const { mesh, materials, kind } = scene.nodes.columns;
    const of = [mesh, materials, kind, scene.materials, only];
    if (of.some((one, i) => one !== this.#of[i])) {
      this.#of = of;
      this.#words = wordsOf(scene, only);
    }
    return this.#words;
  }
}

function wordsOf(scene: Scene, only: Rows | undefined): string {
  const { nodes } = scene;
  const { mesh, materials, kind } = nodes.columns;
  const names = new Set<string>();
  // Of each shape in each list of materials once.
  const table = new Uint8Array(TABLE);
  const seen = new Set<number>();
  const count = nodes.tables.lists.length;
  for (let row = 0; row < kind.length; row++) {
    if (kind[row] !== PART || (only && only.mask[row] === 0)) continue;
    const pair = mesh[row] * count + materials[row];
    if (pair < TABLE ? table[pair] === 1 : seen.has(pair)) continue;
    if (pair < TABLE) table[pair] = 1;
    else seen.add(pair);
    for (const { name } of materialsOf(scene, nodes.row(row))) names.add(shownName(name));
    if (names.size > SEVERAL) return 'several';
  }
  return [...names].join(', ');
}
