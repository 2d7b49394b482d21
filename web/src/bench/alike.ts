/** Rows that are like others: of the same shape, on the same layer, in the same materials, of the same class; or the assemblies above them. */
import { GONE } from '@noble-prism/core/scene/nodes';
import type { Scene } from '@noble-prism/core/scene/types';

export type Likeness = 'mesh' | 'layer' | 'materials' | 'class' | 'parent';

/**
 * Keys of the rows that are like those given, which are among them; for `parent` those of the rows above.
 * @param first stops at the first one: to know whether there are any
 */
export function alike({ nodes }: Scene, rows: readonly number[], of: Likeness, first = false): string[] {
  const column = nodes.columns[of];
  if (of === 'parent') {
    const above = new Set(rows.map((row) => column[row]).filter((row) => row >= 0));
    return [...above].map((row) => nodes.key(row));
  }
  const { kind, solid } = nodes.columns;
  // A solid that has no triangles yet is alike by itself.
  const valueOf = (row: number) => (of === 'mesh' && column[row] === 0 ? -solid[row] : column[row]);
  const wanted = new Set(rows.map(valueOf));
  wanted.delete(0);
  const out: string[] = [];
  if (wanted.size === 0) return out;
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE || !wanted.has(valueOf(row))) continue;
    out.push(nodes.key(row));
    if (first) break;
  }
  return out;
}
