/** Step: mirror rows. Meshes stay what they are and are placed by a mirror, so that equal parts stay equal; their insides stay inside. */
import type { Matrix } from '../scene/matrix.ts';
import { about, Standing } from '../scene/standing.ts';
import { ABOUT_FIELDS, aboutNothing, fixedPoint } from './about.ts';
import type { AboutParameters } from './about.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface MirrorParameters extends AboutParameters {
  across: 'x' | 'y' | 'z';
}

export const mirrorStep = defineStep<MirrorParameters>({
  kind: 'mirror',
  title: 'Mirror',
  purpose: 'Mirrors rows across a plane of the world; what is outside stays outside.',
  also: ['flip', 'reflect', 'left and right', 'symmetry'],
  act: 'Mirror',
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    across: {
      type: 'choice',
      label: 'Across',
      called: 'plane',
      choices: [
        { value: 'x', label: 'x: left and right' },
        { value: 'y', label: 'y: up and down' },
        { value: 'z', label: 'z: front and back' },
      ],
    },
    ...ABOUT_FIELDS,
  },
  defaults: { across: 'x' },
  example: { selector: { by: 'name', pattern: 'Guard left' }, parameters: { across: 'x', about: 'origin' } },
  check: aboutNothing,

  summary: ({ across }) => `across ${across}`,
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, parameters) {
    const standing = new Standing(edit, rows);
    const fixed = fixedPoint(edit, standing.rows, parameters);
    if (typeof fixed === 'string') return { pending: 0, problems: [fixed] };
    const axis = { x: 0, y: 5, z: 10 }[parameters.across];
    const mirror: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1].map((value, i) =>
      i === axis ? -1 : value,
    );
    for (const row of standing.rows) standing.put(row, about(fixed(row), mirror));
    return { pending: 0, problems: standing.problems };
  },
});
