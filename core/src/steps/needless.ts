/** Step: take out assemblies that hold nothing, or a single row that says the same by itself. */
import { factsOf } from '../scene/facts.ts';
import { ASSEMBLY, POINT } from '../scene/nodes.ts';
import { Rehanging } from '../scene/rehang.ts';
import { dissolveRows } from './dissolving.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface NeedlessParameters {
  what: 'both' | 'single' | 'empty';
  /** Which name stays where an assembly around a single row goes. */
  name: 'child' | 'group';
}

export const needlessStep = defineStep<NeedlessParameters>({
  kind: 'needless',
  title: 'Needless groups',
  purpose: 'Takes out assemblies that hold a single row or nothing, however deep they are nested; nothing moves.',
  also: ['single child', 'empty', 'nesting', 'clean up', 'collapse', 'ungroup'],
  act: 'Take out',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    what: {
      type: 'choice',
      label: 'Take out',
      called: 'kind of assembly',
      choices: [
        { value: 'both', label: 'with one row or none' },
        { value: 'single', label: 'with one row' },
        { value: 'empty', label: 'with nothing' },
      ],
    },
    name: {
      type: 'choice',
      label: 'Name that stays',
      called: 'name that stays',
      choices: [
        { value: 'child', label: 'of what is inside' },
        { value: 'group', label: 'of the outermost group' },
      ],
      when: ({ what }) => what !== 'empty',
    },
  },
  defaults: { what: 'both', name: 'child' },

  summary: ({ what, name }) =>
    `${{ both: 'single or empty', single: 'single', empty: 'empty' }[what]}${what === 'empty' ? '' : `, name of the ${name === 'child' ? 'inside' : 'outermost'}`}`,
  counts: () => 'assemblies',

  apply(edit, rows, { what, name }) {
    const { scene } = edit;
    const facts = factsOf(scene);
    const { kind, parent, flags } = scene.nodes.columns;
    const gone = new Uint8Array(scene.nodes.rows);
    // From below: an assembly that held only empty ones is empty itself.
    const held = new Int32Array(scene.nodes.rows);
    const { order } = facts;
    for (let i = order.length - 1; i >= 0; i--) {
      const row = order[i];
      const isOne = kind[row] === ASSEMBLY && (flags[row] & POINT) === 0 && rows.has(row);
      if (isOne && ((held[row] === 0 && what !== 'single') || (held[row] === 1 && what !== 'empty'))) gone[row] = 1;
      // What a single one held takes its place.
      if (parent[row] >= 0 && !(gone[row] === 1 && held[row] === 0)) held[parent[row]]++;
    }
    const outcome = dissolveRows(edit, new Rehanging(edit), gone);
    if (name === 'group') {
      // From above: the outermost of those that go gives its name to the row at the end.
      const given = new Int32Array(scene.nodes.rows).fill(-1);
      for (const row of order) {
        const above = parent[row];
        if (above >= 0 && gone[above] === 1) given[row] = given[above] >= 0 ? given[above] : above;
        if (gone[row] === 0 && given[row] >= 0) edit.setName(row, scene.nodes.columns.name[given[row]]);
      }
    }
    return outcome;
  },
});
