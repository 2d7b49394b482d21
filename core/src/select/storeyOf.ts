/** The storey that each row of a building stands in, as the source has it: another structure of the job does not change it. */
import type { NodeTable } from '../scene/nodes.ts';

/** Class of storeys in ISO 16739-1 (IFC). */
export const STOREY = 'IfcBuildingStorey';

/** Row of the nearest storey at or above each row in its source, which may have been taken out since; -1 where there is none. */
export function storeysOf({ rows, tables, columns }: NodeTable): Int32Array {
  const word = tables.words.find(STOREY);
  const { origin, class: classes } = columns;
  const out = new Int32Array(rows).fill(-1);
  if (word <= 0) return out;
  // In a source parents stand before their children.
  for (let row = 0; row < rows; row++)
    out[row] = classes[row] === word ? row : origin[row] >= 0 ? out[origin[row]] : -1;
  return out;
}
