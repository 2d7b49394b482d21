/**
 * What steps that give shapes other texture coordinates have in common: where they stand, and which shapes they part: those that are shared
 * with parts that they do not concern become two, and that has to be known before.
 */
import type { RowSet } from '../scene/rowSet.ts';
import { PART } from '../scene/nodes.ts';
import type { Scene } from '../scene/types.ts';
import { counted } from '../units.ts';
import { eachRow } from './kind.ts';

/** How the pictures of materials lie depends on the coordinates: kinds that go behind them. */
export const AFTER_COORDINATES = ['finishes', 'own-materials', 'merge-materials', 'faces', 'textures'];

/** What has to be said of it, where there are such shapes. @param concerns false for meshes that the step leaves as they are */
export function partedShapes(scene: Scene, rows: RowSet, concerns: (mesh: string) => boolean = () => true): string[] {
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  const taken = new Set<number>();
  eachRow(scene, rows, (row) => {
    if (kind[row] === PART && mesh[row] > 0) taken.add(mesh[row]);
  });
  const parted = new Set<number>();
  for (let row = 0; row < nodes.rows; row++)
    if (kind[row] === PART && taken.has(mesh[row]) && !rows.has(row)) parted.add(mesh[row]);
  const count = [...parted].filter((number) => concerns(nodes.tables.words.get(number))).length;
  if (count === 0) return [];
  return [`${counted(count, 'shape is', 'shapes are')} shared with parts that it does not concern: ${count === 1 ? 'it becomes two' : 'each becomes two'}.`];
} // prettier-ignore
