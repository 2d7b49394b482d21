/** How much a rule finds, in what a step counts. */
import { takeOff } from '@noble-prism/core/scene/facts';
import { ASSEMBLY, GONE, PART } from '@noble-prism/core/scene/nodes';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Counted } from '@noble-prism/core/steps/kind';

/** Of everything: what is known of the scene anyway. */
export function countAll(scene: Scene, of: Counted): number {
  if (of === 'parts') return takeOff(scene).parts;
  if (of === 'rows') return scene.nodes.length;
  if (of === 'sources') return scene.sources.length;
  const { kind } = scene.nodes.columns;
  let sum = 0;
  for (let row = 0; row < kind.length; row++) if (kind[row] === ASSEMBLY) sum++;
  return sum;
}

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
