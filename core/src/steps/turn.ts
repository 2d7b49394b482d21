/** Step: turn whole sources from z up to y up, or back, by a quarter turn about x. Those that stand right already stay. */
import { invert, multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { factsOf } from '../scene/facts.ts';
import { putElsewhere } from '../scene/motion.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface TurnParameters {
  direction: 'z-to-y' | 'y-to-z';
}

/** x stays, z becomes y, y becomes -z. Exact whole numbers: turning back and forth changes nothing. */
const Z_TO_Y: Matrix = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1];
const Y_TO_Z: Matrix = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1];

export const turnStep = defineStep<TurnParameters>({
  kind: 'turn',
  title: 'Turn',
  purpose: 'Turns whole sources from z up to y up, or back; those that stand right already stay.',
  also: ['up axis', 'rotate', 'y up', 'z up'],
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 2,
  needs: 'manifest',
  fields: {
    direction: {
      type: 'choice',
      label: 'Turn',
      called: 'direction',
      choices: [
        { value: 'z-to-y', label: 'z up → y up' },
        { value: 'y-to-z', label: 'y up → z up' },
      ],
    },
  },
  defaults: { direction: 'z-to-y' },

  counts: () => 'sources',
  summary: ({ direction }) => (direction === 'z-to-y' ? 'z up → y up' : 'y up → z up'),

  apply(edit, rows, { direction }) {
    const { nodes, sources } = edit.scene;
    const matrix = direction === 'z-to-y' ? Z_TO_Y : Y_TO_Z;
    const up = direction === 'z-to-y' ? 'y' : 'z';
    const upright = new Set(sources.filter((source) => source.up === up).map((source) => source.id));
    const turned = new Set<string>();
    const facts = factsOf(edit.scene);
    const turn = (row: number, around: Matrix) => {
      const source = nodes.word('source', row);
      // A handle of several sources is of none: what hangs in it is turned by itself.
      if (source === '') {
        const world = facts.world(row);
        const within = multiply(invert(world), multiply(matrix, world));
        for (const child of facts.childrenOf(row)) turn(child, within);
      } else if (rows.has(row) && !upright.has(source)) {
        turned.add(source);
        putElsewhere(edit, row, { before: around });
      }
    };
    for (const row of facts.childrenOf(null)) turn(row, matrix);
    edit.setSources(sources.map((source) => (turned.has(source.id) ? { ...source, up } : source)));
    return { pending: 0, problems: [] };
  },
});
