/** Step: take assemblies away; what they held hangs under what was above them, and stays where it stands. */
import { factsOf } from '../scene/facts.ts';
import { ASSEMBLY } from '../scene/nodes.ts';
import { Rehanging } from '../scene/rehang.ts';
import { withDescendants } from '../scene/tree.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { dissolveRows } from './dissolving.ts';

export interface DissolveParameters {
  /** The assemblies themselves, or all at and below them. */
  depth: 'one' | 'all';
}

export const dissolveStep = defineStep<DissolveParameters>({
  kind: 'dissolve',
  title: 'Dissolve',
  purpose: 'Takes assemblies away and leaves what they hold, where it stands.',
  also: ['ungroup', 'explode', 'flatten', 'remove group'],
  act: 'Dissolve',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    depth: {
      type: 'choice',
      label: 'Levels',
      choices: [
        { value: 'one', label: 'these assemblies' },
        { value: 'all', label: 'all assemblies at and below' },
      ],
    },
  },
  defaults: { depth: 'one' },

  summary: ({ depth }) => (depth === 'one' ? 'one level' : 'all levels'),
  counts: () => 'assemblies',
  themselves: () => true,

  apply(edit, rows, { depth }) {
    const { scene } = edit;
    const { kind } = scene.nodes.columns;
    const concerned = depth === 'all' ? withDescendants(scene, rows) : rows;
    const gone = new Uint8Array(scene.nodes.rows);
    for (const row of factsOf(scene).order) if (concerned.has(row) && kind[row] === ASSEMBLY) gone[row] = 1;
    return dissolveRows(edit, new Rehanging(edit), gone);
  },
});
