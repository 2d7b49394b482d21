/** Step: put sources in register by points that are the same place in both: one, two (also turned) or three (also tilted). */
import { register } from '../scene/register.ts';
import type { Pair } from '../scene/register.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { Standing } from '../scene/standing.ts';
import { counted, formatLength } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface RegisterParameters {
  from1?: Spot;
  to1?: Spot;
  from2?: Spot;
  to2?: Spot;
  from3?: Spot;
  to3?: Spot;
}

const spot = (label: string, when?: (given: RegisterParameters) => boolean) =>
  ({ type: 'spot', label, optional: true, ...(when ? { when } : {}) }) as const;
const second = ({ from1, to1 }: RegisterParameters) => from1 !== undefined && to1 !== undefined;
const third = ({ from2, to2 }: RegisterParameters) => from2 !== undefined && to2 !== undefined;

export const registerStep = defineStep<RegisterParameters>({
  kind: 'register',
  title: 'Register',
  purpose: 'Puts sources where points of them meet points of others: one moves, two turn as well, three tilt as well.',
  also: ['align', 'setting out', 'survey', 'control points', 'georeference', 'match', 'three points'],
  act: 'Put in register',
  station: 'arrange',
  topic: 'Origin',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    from1: spot('This point'),
    to1: spot('is there'),
    from2: spot('Second point', second),
    to2: spot('is there', second),
    from3: spot('Third point', third),
    to3: spot('is there', third),
  },
  defaults: {},
  example: {
    selector: { by: 'name', pattern: 'Cabin*' },
    parameters: { from1: { at: [0, 0, 0] }, to1: { at: [120.4, 3.2, -88] }, from2: { at: [10, 0, 0] }, to2: { at: [120.4, 3.2, -98] } },
  },
  check: (given) =>
    pairsOf(given).length === 0 ? 'A point and the place where it is are missing: pick both, or type them.' : undefined,

  summary: (given) => `by ${counted(pairsOf(given).length, 'point')}`,
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, given) {
    const { scene } = edit;
    const pairs: Pair[] = [];
    for (const [from, to] of pairsOf(given)) {
      const [a, b] = [spotInWorld(scene, from), spotInWorld(scene, to)];
      if (!a || !b)
        return { pending: 0, problems: [lostSpot(a ? to : from)] };
      pairs.push({ from: a.point, to: b.point });
    }
    const found = register(pairs);
    if (typeof found === 'string') return { pending: 0, problems: [found] };
    const standing = new Standing(edit, rows);
    for (const row of standing.rows) standing.put(row, found.matrix);
    const left = found.residuals.map((one) => formatLength(one, 'mm', 3)).join(', ');
    return {
      pending: 0,
      problems: standing.problems,
      notes: [`${counted(pairs.length, 'point')} in register; left over: ${left}.`],
    };
  },
}); // prettier-ignore

/** Points of which both are said; a later pair counts only where those before it are said. */
function pairsOf({ from1, to1, from2, to2, from3, to3 }: RegisterParameters): [Spot, Spot][] {
  const out: [Spot, Spot][] = [];
  for (const [from, to] of [[from1, to1], [from2, to2], [from3, to3]]) {
    if (!from || !to) break;
    out.push([from, to]);
  }
  return out;
} // prettier-ignore
