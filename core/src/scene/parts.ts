/** Parts gathered by what they have in common: layer, class, material. Rows of each, in the order of the tree. */
import { PART } from './nodes.ts';
import type { NodeTable } from './nodes.ts';
import type { Scene } from './types.ts';

/** Rows of parts by a word of theirs. @param source only those of this source */
export function partsByWord(nodes: NodeTable, column: 'layer' | 'class', source?: string): Map<string, number[]> {
  const { kind, source: sources, [column]: words } = nodes.columns;
  const only = source === undefined ? undefined : nodes.tables.words.find(source);
  const rows: number[][] = [];
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] !== PART || words[row] === 0 || (only !== undefined && sources[row] !== only)) continue;
    (rows[words[row]] ??= []).push(row);
  }
  return named(nodes, rows);
}

/**
 * Rows of parts by the materials that they show: a slot that no triangle has shows nothing.
 * @param mesh numbers of the meshes that the parts are shown with; those of the scene where absent
 */
export function partsByMaterial(
  scene: Scene,
  mesh: Int32Array = scene.nodes.columns.mesh,
  meshes = scene,
): Map<string, number[]> {
  const { nodes } = scene;
  const { kind, materials } = nodes.columns;
  const { lists } = nodes.tables;
  const rows: number[][] = [];
  /** Materials shown by each pair of mesh and list. */
  const shown = new Map<number, number[]>();
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] !== PART || materials[row] === 0) continue;
    const pair = (mesh[row] ?? 0) * lists.length + materials[row];
    let words = shown.get(pair);
    if (!words) {
      const hash = mesh[row] > 0 ? meshes.nodes.tables.words.get(mesh[row]) : undefined;
      const slots = hash === undefined ? undefined : meshes.meshes[hash]?.slots;
      const list = lists.get(materials[row]);
      words = [...new Set(list.filter((_, slot) => !slots?.length || (slots[slot] ?? 0) > 0))];
      shown.set(pair, words);
    }
    for (const word of words) (rows[word] ??= []).push(row);
  }
  return named(nodes, rows);
}

function named(nodes: NodeTable, rows: number[][]): Map<string, number[]> {
  const out = new Map<string, number[]>();
  rows.forEach((list, word) => out.set(nodes.tables.words.get(word), list));
  return out;
}
