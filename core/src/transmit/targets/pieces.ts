/** Parts a scene into the files of one target: one for each layer, storey, assembly or part. All share the origin of the job. */
import { PrismError } from '../../errors.ts';
import { factsOf } from '../../scene/facts.ts';
import { PART } from '../../scene/nodes.ts';
import { Rows } from '../../scene/rowSet.ts';
import type { Scene } from '../../scene/types.ts';
import { storeysOf } from '../../select/storeyOf.ts';
import { formatCount } from '../../units.ts';

export const SPLITS = ['layer', 'storey', 'assembly', 'part'] as const;
export type Split = (typeof SPLITS)[number];

export interface Piece {
  /** Of the layer, the storey, the assembly or the part. */
  name: string;
  rows: Rows;
}

/** More files than anybody opens. */
const MOST = 5000;

/** @throws PrismError `too-large` for more pieces than can be meant */
export function piecesOf(scene: Scene, split: Split): Piece[] {
  const { nodes } = scene;
  const { kind, mesh, solid } = nodes.columns;
  const groupOf = groupsBy(scene, split);
  const groups = new Map<string | number, { name: string; rows: number[] }>();
  for (const row of factsOf(scene).order) {
    if (kind[row] !== PART || (mesh[row] === 0 && solid[row] === 0)) continue;
    const { key, name } = groupOf(row);
    const known = groups.get(key);
    if (known) known.rows.push(row);
    else groups.set(key, { name, rows: [row] });
  }
  if (groups.size > MOST)
    throw new PrismError('too-large', `Split by ${split} there would be ${formatCount(groups.size)} files; at most ${formatCount(MOST)} are written.`); // prettier-ignore
  return [...groups.values()].map(({ name, rows }) => ({ name, rows: Rows.of(nodes.rows, rows) }));
}

function groupsBy(scene: Scene, split: Split): (row: number) => { key: string | number; name: string } {
  const { nodes } = scene;
  const text = (row: number) => nodes.text('name', row);
  if (split === 'part') return (row) => ({ key: row, name: text(row) });
  if (split === 'layer')
    return (row) => {
      const layer = nodes.word('layer', row);
      return { key: layer, name: layer || 'without layer' };
    };
  if (split === 'storey') {
    const storeys = storeysOf(nodes);
    return (row) =>
      storeys[row] < 0 ? { key: -1, name: 'without storey' } : { key: storeys[row], name: text(storeys[row]) };
  }
  const tops = topAssemblies(scene);
  return (row) => ({ key: tops[row], name: text(tops[row]) });
}

/** The row of the first level that has several, above each row: where all hangs under one, the level below it. */
function topAssemblies(scene: Scene): Int32Array {
  const facts = factsOf(scene);
  const { parent } = scene.nodes.columns;
  let level = facts.childrenOf(null);
  while (level.length === 1 && facts.childrenOf(level[0]).length > 0) level = facts.childrenOf(level[0]);
  const isTop = new Uint8Array(scene.nodes.rows);
  for (const row of level) isTop[row] = 1;
  const out = new Int32Array(scene.nodes.rows);
  for (const row of facts.order) out[row] = isTop[row] === 1 || parent[row] < 0 ? row : out[parent[row]];
  return out;
}
