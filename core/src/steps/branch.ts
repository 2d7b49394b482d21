/** Step: say for one branch in which unit it really is, and which of its axes points up. */
import { factsOf } from '../scene/facts.ts';
import { multiply } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { rotationBetween } from '../scene/rotation.ts';
import { directionIn } from '../scene/spot.ts';
import { about, Standing } from '../scene/standing.ts';
import { formatNumber, metresPer } from '../units.ts';
import { ABOUT_FIELDS, aboutNothing, fixedPoint } from './about.ts';
import type { AboutParameters } from './about.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { UP_AXES } from './up.ts';
import type { UpAxis } from './up.ts';

const UNITS = ['mm', 'cm', 'm', 'inch', 'foot'] as const;
type Unit = (typeof UNITS)[number];

export interface BranchParameters extends AboutParameters {
  /** As what its numbers were read, and what they are. */
  read?: Unit;
  is?: Unit;
  /** Axis of its own that points up; as it stands where nothing is said. */
  up?: UpAxis;
}

const units = (nothing: string) => [
  { value: undefined, label: nothing },
  ...UNITS.map((unit) => ({ value: unit, label: unit })),
];

export const branchStep = defineStep<BranchParameters>({
  kind: 'branch',
  title: 'Unit and axis',
  purpose: 'Says for one branch in which unit it really is, and which of its axes points up; for a whole source that is said at Receive.',
  also: ['inch', 'millimetre', 'wrong size', 'lies on its back', 'orientation of a part'],
  act: 'Set right',
  station: 'arrange',
  topic: 'Unit and axis of a branch',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    read: { type: 'choice', label: 'Was read in', called: 'unit that it was read in', choices: units('its unit') },
    is: { type: 'choice', label: 'Is in', called: 'true unit', choices: units('its unit') },
    up: {
      type: 'choice',
      label: 'Points up',
      called: 'axis that points up',
      choices: [
        { value: undefined, label: 'as it stands' },
        ...UP_AXES.map((axis) => ({ value: axis, label: axis.startsWith('-') ? `${axis.slice(1)} points down` : `${axis} points up` })),
      ],
    },
    ...ABOUT_FIELDS,
  },
  defaults: {},
  example: { selector: { by: 'name', pattern: 'Lamp*' }, parameters: { read: 'mm', is: 'inch' } },
  check(given) {
    if ((given.read === undefined) !== (given.is === undefined)) return 'Both units have to be said: what it was read in, and what it is.';
    return aboutNothing(given);
  },

  summary: ({ read, is, up }) =>
    [...(read && is && read !== is ? [`${read} → ${is}`] : []), ...(up ? [`${up} up`] : [])].join(', ') || 'as it is',
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, parameters) {
    const { read, is, up } = parameters;
    const factor = read && is ? (metresPer(is) ?? 1) / (metresPer(read) ?? 1) : 1;
    const standing = new Standing(edit, rows);
    const fixed = fixedPoint(edit, standing.rows, parameters);
    if (typeof fixed === 'string') return { pending: 0, problems: [fixed] };
    const scaling: Matrix = [factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, 1];
    for (const row of standing.rows) {
      const turn = up && rotationBetween(directionIn(factsOf(edit.scene).world(row), axisOf(up)), [0, 1, 0]);
      standing.put(row, about(fixed(row), turn ? multiply(turn, scaling) : scaling));
    }
    return {
      pending: 0,
      problems: standing.problems,
      notes: factor === 1 ? [] : [`× ${formatNumber(factor, 6)}`],
    };
  },
}); // prettier-ignore

function axisOf(axis: UpAxis): Vector {
  const sign = axis.startsWith('-') ? -1 : 1;
  return { x: [sign, 0, 0], y: [0, sign, 0], z: [0, 0, sign] }[
    axis.replace('-', '') as 'x' | 'y' | 'z'
  ] as unknown as Vector;
}
