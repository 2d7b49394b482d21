/** Step: move rows by lengths along the axes of the world, of their parents, or of their own pivots. */
import { factsOf } from '../scene/facts.ts';
import { transformPoint, translation } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { rotationOf } from '../scene/rotation.ts';
import { Standing } from '../scene/standing.ts';
import { formatLength } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface MoveParameters {
  /** Metres. */
  x: number;
  y: number;
  z: number;
  along?: 'parent' | 'own';
}

const length = (label: string) => ({ type: 'quantity', of: 'length', unit: 'mm', label, min: -1e9, max: 1e9 }) as const;

export const moveStep = defineStep<MoveParameters>({
  kind: 'move',
  title: 'Move',
  purpose: 'Moves rows by lengths along axes; what is below goes with them.',
  also: ['translate', 'shift', 'position', 'displace', 'nudge'],
  act: 'Move',
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    x: length('x'),
    y: length('y'),
    z: length('z'),
    along: {
      type: 'choice',
      label: 'Along axes of',
      called: 'axes',
      choices: [
        { value: undefined, label: 'the world, y up' },
        { value: 'parent', label: 'the parent' },
        { value: 'own', label: 'each pivot' },
      ],
    },
  },
  defaults: { x: 0, y: 0, z: 0 },
  example: { selector: { by: 'name', pattern: 'Cabin' }, parameters: { x: 0, y: 0.25, z: 0 } },

  summary: ({ x, y, z }) => [x, y, z].map((value) => formatLength(value, 'mm')).join(', '),
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, { x, y, z, along }) {
    const standing = new Standing(edit, rows);
    const { scene } = edit;
    const { parent } = scene.nodes.columns;
    const way: Vector = [x, y, z];
    for (const row of standing.rows) {
      const frame = along === 'own' ? row : along === 'parent' ? parent[row] : -1;
      const turned = frame < 0 ? way : transformPoint(rotationOf(factsOf(scene).world(frame)), way);
      standing.put(row, translation(turned));
    }
    return { pending: 0, problems: standing.problems };
  },
});
