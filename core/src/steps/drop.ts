/** Step: set rows down on the ground, or on a height: what is lowest of each, or of all together. */
import { translation } from '../scene/matrix.ts';
import { Rows } from '../scene/rowSet.ts';
import { Standing } from '../scene/standing.ts';
import { withDescendants, worldBox } from '../scene/tree.ts';
import { counted, formatLength } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface DropParameters {
  /** Metres above the origin. */
  height: number;
  /** Each by itself where nothing is said. */
  as?: 'together';
}

export const dropStep = defineStep<DropParameters>({
  kind: 'drop',
  title: 'Drop to the ground',
  purpose: 'Sets rows down on the ground, or on another height, straight down or up.',
  also: ['floor', 'rest', 'land', 'settle', 'height'],
  act: 'Drop',
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    height: { type: 'quantity', of: 'length', unit: 'mm', label: 'On a height of', called: 'height', min: -1e9, max: 1e9 },
    as: {
      type: 'choice',
      label: 'Which',
      called: 'way to drop',
      choices: [
        { value: undefined, label: 'each row by itself' },
        { value: 'together', label: 'all together' },
      ],
    },
  },
  defaults: { height: 0 },
  example: { selector: { by: 'name', pattern: 'Bench*' }, parameters: { height: 0 } },

  summary: ({ height }) => (height === 0 ? 'on the ground' : `on ${formatLength(height, 'mm')}`),
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, { height, as }) {
    const { scene } = edit;
    const standing = new Standing(edit, rows);
    const lowest = (of: readonly number[]) => worldBox(scene, withDescendants(scene, Rows.of(scene.nodes.rows, of)))?.min[1];
    const all = as === 'together' ? lowest(standing.rows) : undefined;
    let empty = 0;
    for (const row of standing.rows) {
      const low = as === 'together' ? all : lowest([row]);
      if (low === undefined) empty++;
      else standing.put(row, translation([0, height - low, 0]));
    }
    return {
      pending: 0,
      problems: [
        ...standing.problems,
        ...(empty > 0 ? [`${counted(empty, 'row has', 'rows have')} no geometry yet that could be set down.`] : []),
      ],
    };
  },
}); // prettier-ignore
