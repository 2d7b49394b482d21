/** How much a rule finds, in what a step counts. */
import { ASSEMBLY, GONE, PART } from '@noble-prism/core/scene/nodes';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Counted } from '@noble-prism/core/steps/kind';

export function countRows({ nodes }: Scene, rows: RowSet, of: Counted): number {
  if (of === 'rows') return rows.size;
  const { kind, source } = nodes.columns;
  if (of === 'sources') {
    const seen = new Set<number>();
    for (let row = 0; row < kind.length; row++) if (kind[row] !== GONE && rows.has(row)) seen.add(source[row]);
    return seen.size;
  }
  const wanted = of === 'parts' ? PART : ASSEMBLY;
  let sum = 0;
  for (let row = 0; row < kind.length; row++) if (kind[row] === wanted && rows.has(row)) sum++;
  return sum;
}
