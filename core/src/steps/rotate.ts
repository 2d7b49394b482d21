/** Step: turn rows by an angle about an axis of the world, of their pivots, or one that was picked. */
import { factsOf } from '../scene/facts.ts';
import type { Vector } from '../scene/matrix.ts';
import { rotationAbout } from '../scene/rotation.ts';
import { directionIn, spotInWorld } from '../scene/spot.ts';
import type { Scene } from '../scene/types.ts';
import { about, Standing } from '../scene/standing.ts';
import { formatAngle } from '../units.ts';
import { ABOUT_FIELDS, aboutNothing, fixedPoint } from './about.ts';
import type { AboutParameters } from './about.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface RotateParameters extends AboutParameters {
  /** Radians, counter-clockwise seen against the axis. */
  angle: number;
  axis: 'x' | 'y' | 'z' | 'own-x' | 'own-y' | 'own-z' | 'picked';
}

const DIRECTIONS: Record<string, Vector> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** What rows are turned about: around a picked axis, everything turns about a point of it. */
export function aboutOf({ about, axis, spot }: RotateParameters): AboutParameters {
  return { ...(axis === 'picked' ? { about: 'spot' } : about ? { about } : {}), ...(spot ? { spot } : {}) };
}

/** The direction that a row is turned around, in the world; undefined where it was picked on what is no longer there. */
export function axisOf(scene: Scene, row: number, { axis, spot }: RotateParameters): Vector | undefined {
  if (axis === 'picked') return spot && spotInWorld(scene, spot)?.axis;
  return axis.startsWith('own-') ? directionIn(factsOf(scene).world(row), DIRECTIONS[axis.slice(4)]) : DIRECTIONS[axis];
}

export const rotateStep = defineStep<RotateParameters>({
  kind: 'rotate',
  title: 'Rotate',
  purpose: 'Turns rows by an angle; what is below goes with them.',
  also: ['turn', 'spin', 'angle', '90 degrees', 'quarter turn'],
  act: 'Rotate',
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    angle: { type: 'quantity', of: 'angle', unit: '°', label: 'Angle', min: -100, max: 100, offers: [Math.PI / 2, -Math.PI / 2, Math.PI] },
    axis: {
      type: 'choice',
      label: 'Around',
      called: 'axis',
      choices: [
        { value: 'y', label: 'y of the world, up' },
        { value: 'x', label: 'x of the world' },
        { value: 'z', label: 'z of the world' },
        { value: 'own-x', label: 'x of each pivot' },
        { value: 'own-y', label: 'y of each pivot' },
        { value: 'own-z', label: 'z of each pivot' },
        { value: 'picked', label: 'a picked axis' },
      ],
    },
    ...ABOUT_FIELDS,
    spot: { ...ABOUT_FIELDS.spot, when: (given: RotateParameters) => given.about === 'spot' || given.axis === 'picked' },
  },
  defaults: { angle: Math.PI / 2, axis: 'y' },
  example: { selector: { by: 'name', pattern: 'Cabin' }, parameters: { angle: 1.5707963267948966, axis: 'y', about: 'base' } },
  check(given) {
    if (given.axis === 'picked' && !given.spot?.axis)
      return 'The axis is missing: pick a circle, a hole or a shaft in the view.';
    return aboutNothing(given);
  },

  summary: ({ angle, axis }) => `${formatAngle(angle)} around ${axis.replace('own-', 'own ')}`,
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, parameters) {
    const { angle } = parameters;
    const { scene } = edit;
    const standing = new Standing(edit, rows);
    const fixed = fixedPoint(edit, standing.rows, aboutOf(parameters));
    if (typeof fixed === 'string') return { pending: 0, problems: [fixed] };
    for (const row of standing.rows) {
      const direction = axisOf(scene, row, parameters);
      if (direction) standing.put(row, about(fixed(row), rotationAbout(direction, angle)));
    }
    return { pending: 0, problems: standing.problems };
  },
}); // prettier-ignore
