/** Step: take only a part of a source. What the rule names is left out, with all below it, before anything is computed of it. */
import { factsOf } from '../scene/facts.ts';
import { ASSEMBLY } from '../scene/nodes.ts';
import { withDescendants } from '../scene/tree.ts';
import { defineStep } from './kind.ts';

export const leaveOutStep = defineStep<object>({
  kind: 'leave-out',
  title: 'Leave out',
  purpose: 'Takes parts away before anything is computed of them.',
  also: ['delete', 'remove', 'exclude', 'omit', 'hide for good'],
  station: 'receive',
  place: 20,
  version: 1,
  needs: 'manifest',
  fields: {},
  defaults: {},

  summary: () => 'not taken',

  apply(edit, rows) {
    const { scene } = edit;
    const { parent, kind } = scene.nodes.columns;
    const { order, children } = factsOf(scene);
    const gone = withDescendants(scene, rows).mask;
    // Assemblies that held nothing else go too; those that were empty as received stay.
    const kept = new Int32Array(gone.length);
    for (let i = order.length - 1; i >= 0; i--) {
      const row = order[i];
      const held = children.start[row + 2] > children.start[row + 1];
      if (kind[row] === ASSEMBLY && held && kept[row] === 0) gone[row] = 1;
      if (gone[row] === 0 && parent[row] >= 0) kept[parent[row]]++;
    }
    if (rows.size > 0) for (let row = 0; row < gone.length; row++) if (gone[row] === 1) edit.remove(row);
    return { pending: 0, problems: [] };
  },
});
