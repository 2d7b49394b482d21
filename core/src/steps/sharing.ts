/** Parts that share their shape with others. */
import { GONE } from '../scene/nodes.ts';
import type { Scene } from '../scene/types.ts';

/** Of some parts, how many have a mesh, or a solid that is not tessellated yet, that others have too. */
export function sharedAmong({ nodes }: Scene, parts: readonly number[]): number {
  const { mesh, solid, kind } = nodes.columns;
  const shapeOf = (row: number) => mesh[row] || solid[row];
  const places = new Uint32Array(nodes.tables.words.length);
  for (let row = 0; row < nodes.rows; row++) if (kind[row] !== GONE) places[shapeOf(row)]++;
  return parts.filter((row) => shapeOf(row) > 0 && places[shapeOf(row)] > 1).length;
}
