/** Step: put a point of rows on another point; with their axes one upon the other where both have some. */
import { dot, multiply, translation } from '../scene/matrix.ts';
import { rotationBetween } from '../scene/rotation.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { about, Standing } from '../scene/standing.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface PutOnParameters {
  from?: Spot;
  to?: Spot;
  axes?: 'along';
}

export const putOnStep = defineStep<PutOnParameters>({
  kind: 'put-on',
  title: 'Put on a point',
  purpose: 'Moves rows so that a picked point of them lies on another; with their axes along each other where that is asked for.',
  also: ['align', 'snap', 'mate', 'match', 'place on', 'concentric'],
  act: 'Put there',
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    from: { type: 'spot', label: 'This point', optional: true, withAxis: true },
    to: { type: 'spot', label: 'On this one', optional: true, withAxis: true },
    axes: {
      type: 'choice',
      label: 'Axes',
      choices: [
        { value: undefined, label: 'as they are' },
        { value: 'along', label: 'turned along each other' },
      ],
      when: ({ from, to }) => from?.axis !== undefined && to?.axis !== undefined,
    },
  },
  defaults: {},
  example: {
    selector: { by: 'name', pattern: 'Cabin' },
    parameters: { from: { at: [0, 2.2, 0] }, to: { at: [4, 6, 1] } },
  },
  check({ from, to }) {
    if (!from || !to) return `${from ? 'The point that it is put on' : 'The point that is moved'} is missing: pick it in the view.`;
    return undefined;
  },

  summary: ({ from, to }) => `${from?.what ?? 'point'} on ${to?.what ?? 'point'}`,
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, { from, to, axes }) {
    const { scene } = edit;
    const standing = new Standing(edit, rows);
    const [a, b] = [from && spotInWorld(scene, from), to && spotInWorld(scene, to)];
    if (!a || !b)
      return { pending: 0, problems: [lostSpot(a ? to : from)] };
    const move = translation([b.point[0] - a.point[0], b.point[1] - a.point[1], b.point[2] - a.point[2]]);
    // An axis has no head: the smaller turn is meant.
    const turn = axes && a.axis && b.axis ? rotationBetween(a.axis, dot(a.axis, b.axis) < 0 ? [-b.axis[0], -b.axis[1], -b.axis[2]] : b.axis) : undefined;
    for (const row of standing.rows) standing.put(row, turn ? multiply(move, about(a.point, turn)) : move);
    return { pending: 0, problems: standing.problems };
  },
}); // prettier-ignore
