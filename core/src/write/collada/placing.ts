/** Places of nodes as COLLADA has them: one matrix, under a name to which movements refer. */
import type { Matrix } from '../../scene/matrix.ts';

/** Name of the place of a node. */
export const PLACE = 'place';

/** Sixteen numbers row by row, for points as columns. */
export function matrixText(m: Matrix): string {
  return [0, 1, 2, 3].flatMap((row) => [0, 1, 2, 3].map((column) => String(m[column * 4 + row] + 0))).join(' ');
}
