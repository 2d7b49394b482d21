/** Step: make a branch as large as it is known to be, by two points of it and the distance that they have in truth. */
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { about, Standing } from '../scene/standing.ts';
import { formatLength, formatNumber } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface CalibrateParameters {
  from?: Spot;
  to?: Spot;
  /** Metres. */
  length: number;
}

export const calibrateStep = defineStep<CalibrateParameters>({
  kind: 'calibrate',
  title: 'Calibrate',
  purpose: 'Makes a branch as large as it is, by two points of it and their true distance; the first point stays.',
  also: ['scale by a known length', 'true size', 'reference length'],
  act: 'Calibrate',
  station: 'arrange',
  topic: 'Unit and axis of a branch',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    from: { type: 'spot', label: 'From', optional: true },
    to: { type: 'spot', label: 'To', optional: true },
    length: { type: 'quantity', of: 'length', unit: 'mm', label: 'Is in truth', called: 'true distance', min: 1e-6, max: 1e9 },
  },
  defaults: { length: 1 },
  example: {
    selector: { by: 'name', pattern: 'Bench*' },
    parameters: { from: { at: [0, 0, 0] }, to: { at: [0.0708, 0, 0] }, length: 1.8 },
  },
  check: ({ from, to }) => (from && to ? undefined : `The ${from ? 'second' : 'first'} point is missing: pick it in the view, or type it.`),

  summary: ({ length }) => `${formatLength(length, 'mm')} in truth`,
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, { from, to, length }) {
    const { scene } = edit;
    const [a, b] = [from && spotInWorld(scene, from), to && spotInWorld(scene, to)];
    if (!a || !b)
      return { pending: 0, problems: [lostSpot(a ? to : from)] };
    const distance = Math.hypot(...[0, 1, 2].map((k) => b.point[k] - a.point[k]));
    if (distance < 1e-9) return { pending: 0, problems: ['Both points lie on one spot: their distance says nothing.'] };
    const factor = length / distance;
    const standing = new Standing(edit, rows);
    const done = about(a.point, [factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, 1]);
    for (const row of standing.rows) standing.put(row, done);
    const notes = [`${formatLength(distance, 'mm', 5)} are ${formatLength(length, 'mm', 5)}: × ${formatNumber(factor, 6)}.`];
    return { pending: 0, problems: standing.problems, notes };
  },
}); // prettier-ignore
