/** Step: names a hinge or a slide between two rows, on an axis of a solid, so that they can be driven. Nothing moves. */
import { linksOf, seatIn } from '../linkage/links.ts';
import type { JointKind } from '../linkage/joint.ts';
import { acrossTo } from '../measure/snap.ts';
import { factsOf } from '../scene/facts.ts';
import { isSingular, normalize } from '../scene/matrix.ts';
import { isAtOrAbove } from '../scene/rehang.ts';
import { spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { MARK_FIELD } from './made.ts';

export interface LinkParameters {
  name: string;
  as: JointKind;
  /** Keys of rows; the base is what stands still where nothing is said. */
  part: string;
  base?: string;
  /** A point on the axis, and its direction. */
  axis?: Spot;
  /** Radians, of a hinge. */
  leastTurn?: number;
  greatestTurn?: number;
  /** Metres, of a slide. */
  leastShift?: number;
  greatestShift?: number;
  mark?: string;
}

const isHinge = ({ as }: Pick<LinkParameters, 'as'>) => as === 'hinge';
const turn = (label: string) =>
  ({
    type: 'quantity',
    of: 'angle',
    unit: '°',
    label,
    min: -100 * Math.PI,
    max: 100 * Math.PI,
    optional: true,
    when: isHinge,
  }) as const;
const shift = (label: string) =>
  ({
    type: 'quantity',
    of: 'length',
    unit: 'mm',
    label,
    min: -1e6,
    max: 1e6,
    optional: true,
    when: (given: LinkParameters) => !isHinge(given),
  }) as const;

export const linkStep = defineStep<LinkParameters>({
  kind: 'link',
  title: 'Link',
  purpose: 'Names a hinge or a slide between two rows, on the axis of a shaft, a hole or an edge, so that they can be driven.',
  also: ['hinge', 'slide', 'joint', 'revolute', 'prismatic', 'constraint', 'mechanism', 'kinematics', 'mate'],
  act: 'Name link',
  station: 'arrange',
  topic: 'Motion',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  whole: () => true,
  beside: true,
  fields: {
    name: { type: 'text', label: 'Name', most: 200 },
    as: {
      type: 'choice',
      label: 'It',
      called: 'kind of link',
      choices: [
        { value: 'hinge', label: 'turns about the axis' },
        { value: 'slide', label: 'slides along the axis' },
      ],
    },
    part: { type: 'row', label: 'This row', help: 'A part, or an assembly with everything in it.' },
    base: { type: 'row', label: 'on', called: 'row that it is on', optional: 'what stands still' },
    axis: { type: 'spot', label: 'Axis', withAxis: true, help: 'A shaft, a hole, a circle or a straight edge.' },
    leastTurn: turn('From'),
    greatestTurn: turn('To'),
    leastShift: shift('From'),
    greatestShift: shift('To'),
    mark: MARK_FIELD,
  },
  defaults: { name: 'Hinge 1', as: 'hinge', part: '' },
  example: {
    parameters: { name: 'Crank shaft', as: 'hinge', part: '/Drive/Crank', axis: { at: [0.4, 1.1, 0], axis: [0, 0, 1] } },
  },
  check(given) {
    if (!given.axis?.axis) return 'The axis is missing: pick a shaft, a hole, a circle or a straight edge.';
    if (given.base !== undefined && given.base === given.part) return 'A row cannot be linked to itself.';
    const [least, greatest] = isHinge(given) ? [given.leastTurn, given.greatestTurn] : [given.leastShift, given.greatestShift];
    return least !== undefined && greatest !== undefined && least > greatest ? 'It ends before it begins: from is greater than to.' : undefined;
  },

  summary: ({ name, as }) => `“${name}”, ${as}`,
  counts: () => 'rows',

  apply(edit, _rows, given) {
    const { scene } = edit;
    const facts = factsOf(scene);
    const fault = (words: string) => ({ pending: 0, problems: [`“${given.name}”: ${words}`] });
    const rowOf = (key: string) => facts.rowOf(key);
    const part = rowOf(given.part);
    const base = given.base === undefined ? -1 : rowOf(given.base);
    if (part === undefined) return fault(`the row is no longer there: ${given.part}.`);
    if (base === undefined) return fault(`the row that it is on is no longer there: ${given.base}.`);
    if (base >= 0 && isAtOrAbove(facts, part, base)) return fault('it is on something that is inside of it, which would move with it.');
    const found = given.axis && spotInWorld(scene, given.axis);
    if (!found?.axis) return fault(`the part on which the axis was picked is no longer there: ${given.axis?.on}.`);
    const flat = [part, base].find((row) => row >= 0 && isSingular(facts.world(row)));
    if (flat !== undefined) return fault(`${scene.nodes.text('name', flat)} has a scale of zero.`);
    const axis = normalize(found.axis);
    const seat = { point: found.point, axis, across: acrossTo(axis) };
    const [least, greatest] = isHinge(given) ? [given.leastTurn, given.greatestTurn] : [given.leastShift, given.greatestShift];
    edit.setLinks([
      ...linksOf(scene),
      {
        id: given.mark ?? given.name,
        name: given.name,
        kind: given.as,
        part,
        base,
        inPart: seatIn(facts, part, seat),
        inBase: seatIn(facts, base, seat),
        ...(least === undefined ? {} : { least }),
        ...(greatest === undefined ? {} : { greatest }),
      },
    ]);
    return { pending: 0, problems: [] };
  },
}); // prettier-ignore
