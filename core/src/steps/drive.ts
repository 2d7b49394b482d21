/** Step: puts a linkage into a position by the value of one of its links; the whole chain follows. */
import { beforeOwn } from '../linkage/links.ts';
import { putElsewhere } from '../scene/motion.ts';
import { isIdentity } from '../scene/matrix.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { driverOf, formatValue, gapWords, LINK_FIELD, stopWords } from './linkFields.ts';

export interface DriveParameters {
  link: string;
  /** Radians, where it is a hinge. */
  turn?: number;
  /** Metres, where it is a slide. */
  shift?: number;
}

export const driveStep = defineStep<DriveParameters>({
  kind: 'drive',
  title: 'Drive',
  purpose: 'Puts a linkage into a position by the angle of a hinge or the way of a slide; the whole chain follows.',
  also: ['pose', 'position', 'kinematics', 'crank', 'mechanism', 'angle'],
  act: 'Keep position',
  station: 'arrange',
  topic: 'Motion',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  whole: () => true,
  fields: {
    link: LINK_FIELD,
    turn: { type: 'quantity', of: 'angle', unit: '°', label: 'Turned by', min: -100 * Math.PI, max: 100 * Math.PI, optional: { meaning: 0 }, help: 'Of a hinge, from where it was named.' },
    shift: { type: 'quantity', of: 'length', unit: 'mm', label: 'Shifted by', min: -1e6, max: 1e6, optional: { meaning: 0 }, help: 'Of a slide, from where it was named.' },
  },
  defaults: { link: '' },
  example: { parameters: { link: 'Crank shaft', turn: 0.7 } },

  summary: ({ link, turn, shift }) => [link, ...(turn === undefined ? [] : [formatValue({ kind: 'hinge' }, turn)]), ...(shift === undefined ? [] : [formatValue({ kind: 'slide' }, shift)])].join(', '),
  counts: () => 'rows',

  apply(edit, _rows, { link: called, turn, shift }) {
    const driver = driverOf(edit.scene, called);
    if (typeof driver === 'string') return { pending: 0, problems: [driver] };
    const { link, mechanism, places } = driver;
    const { moves, values, reached, stop, gap } = mechanism.linkage.drive((link.kind === 'hinge' ? turn : shift) ?? 0);
    // Half of the way is not what was asked for.
    if (stop !== undefined) return { pending: 0, problems: [stopWords(driver, edit.scene, reached, stop)] };
    for (const place of places) {
      const before = beforeOwn(place, moves);
      if (!isIdentity(before, 0)) putElsewhere(edit, place.row, { before });
    }
    const said = mechanism.links.map((one, i) => `${one.name} ${formatValue(one, values[i])}`);
    return { pending: 0, problems: [], notes: [`${said.join(', ')}.`, ...gapWords(gap)] };
  },
}); // prettier-ignore
