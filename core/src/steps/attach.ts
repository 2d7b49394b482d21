/** Step: hang rows under another one, or under none, while they keep their place. */
import { factsOf } from '../scene/facts.ts';
import { isAtOrAbove, Rehanging, topmost } from '../scene/rehang.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface AttachParameters {
  /** Key of the new parent; the top level where nothing is said. */
  to?: string;
}

export const attachStep = defineStep<AttachParameters>({
  kind: 'attach',
  title: 'Attach',
  purpose: 'Hangs rows under another one, so that they go where it goes; they keep their place.',
  also: ['parent', 'reparent', 'move to', 'child', 'put under', 'detach'],
  act: 'Attach',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    to: {
      type: 'row',
      label: 'Under',
      called: 'new parent',
      optional: 'the top level',
      help: 'What they are to go with.',
    },
  },
  defaults: {},
  example: {
    selector: { by: 'name', pattern: 'Stray*' },
    parameters: { to: '/Drive unit/Motor group' },
  },

  summary: ({ to }) => (to === undefined ? 'to the top level' : `under ${to.slice(to.lastIndexOf('/') + 1)}`),
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, { to }) {
    const { scene } = edit;
    const facts = factsOf(scene);
    const parent = to === undefined ? -1 : facts.rowOf(to);
    if (parent === undefined) return { pending: 0, problems: [`The new parent is no longer there: ${to}.`] };
    const name = (row: number) => scene.nodes.text('name', row);
    const members = topmost(facts, rows);
    const above = members.find((row) => parent >= 0 && isAtOrAbove(facts, row, parent));
    if (above !== undefined)
      return {
        pending: 0,
        problems: [
          above === parent
            ? `${name(above)} cannot be put under itself.`
            : `${name(above)} cannot be put under ${name(parent)}, which is below it.`,
        ],
      };
    const hanging = new Rehanging(edit);
    for (const row of members) hanging.hang(row, parent);
    return { pending: 0, problems: hanging.problems };
  },
});
