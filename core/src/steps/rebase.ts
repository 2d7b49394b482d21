/** Step: takes a job that lies far from zero to a local origin. What was taken off is kept in doubles, and put back on delivery. */
import { factsOf } from '../scene/facts.ts';
import { IDENTITY, invert, isSingular, multiply, translation } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { putElsewhere } from '../scene/motion.ts';
import { ASSEMBLY } from '../scene/nodes.ts';
import { movedOrigin } from '../scene/origin.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { worldBox } from '../scene/tree.ts';
import { formatLength } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface RebaseParameters {
  /** The new origin; the middle of everything where nothing is said. */
  spot?: Spot;
  /** To whole ones of this the offset is rounded, metres; not at all where nothing is said. */
  round?: number;
  /** Heights are taken off too, where they otherwise stay what they are. */
  heights?: 'too';
}

export const rebaseStep = defineStep<RebaseParameters>({
  kind: 'rebase',
  title: 'Local origin',
  purpose: 'Takes a job that lies far from zero to an origin of its own, so that nothing shakes; the offset is kept and can be put back on delivery.',
  also: ['rebase', 'far from origin', 'shift', 'shaking', 'jitter', 'survey coordinates', 'offset', 'georeference'],
  act: 'Set local origin',
  station: 'arrange',
  topic: 'Origin',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  whole: () => true,
  fields: {
    spot: { type: 'spot', label: 'New origin', optional: true, help: 'The middle of everything where nothing is picked or typed.' },
    round: {
      type: 'quantity',
      of: 'length',
      unit: 'm',
      label: 'Offset in whole',
      min: 0.001,
      max: 1e6,
      offers: [1, 100, 1000],
      optional: true,
      help: 'A round offset can be written on a drawing.',
    },
    heights: {
      type: 'choice',
      label: 'Heights',
      choices: [
        { value: undefined, label: 'stay' },
        { value: 'too', label: 'are taken off too' },
      ],
    },
  },
  defaults: { round: 1 },
  example: { parameters: { spot: { at: [2_600_123.4, 0, -1_200_456.7] }, round: 100 } },

  summary: ({ spot, round, heights }) =>
    [spot?.what ?? (spot ? 'typed point' : 'middle of all'), ...(round ? [`in whole ${formatLength(round, 'm')}`] : []), ...(heights ? ['heights too'] : [])].join(', '),
  counts: () => 'rows',

  apply(edit, _rows, { spot, round, heights }) {
    const { scene } = edit;
    const found = spot && spotInWorld(scene, spot);
    if (spot && !found)
      return { pending: 0, problems: [lostSpot(spot)] };
    const middle = found?.point ?? middleOf(worldBox(scene));
    if (!middle) return { pending: 0, problems: ['There is no geometry yet that has a middle; pick or type the new origin.'] };
    const whole = (value: number) => (round ? Math.round(value / round) * round : value);
    const taken: Vector = [whole(middle[0]), heights === 'too' ? whole(middle[1]) : 0, whole(middle[2])];
    if (taken.every((value) => value === 0)) return { pending: 0, problems: [], notes: ['The job lies at its origin already.'] };
    const problems = moveAll(edit, taken);
    edit.setOrigin(movedOrigin(edit.origin, taken));
    return { pending: 0, problems, notes: [`Taken off: ${'xyz'.split('').map((axis, i) => `${axis} ${formatLength(taken[i], 'm', 12)}`).join(', ')}.`] };
  },
}); // prettier-ignore

/**
 * Everything moves; but an assembly whose pivot is nearer to the old origin than to the new one has only been left there: it stands at
 * the new origin then, or all that is in it would be far from it again.
 */
function moveAll(edit: Parameters<typeof rebaseStep.apply>[0], [x, y, z]: Vector): string[] {
  const { scene } = edit;
  const facts = factsOf(scene);
  const { kind, parent } = scene.nodes.columns;
  const back = translation([-x, -y, -z]);
  /** 1 for rows that stay, so that what is in them moves by itself. */
  const stays = new Uint8Array(scene.nodes.rows);
  const problems: string[] = [];
  for (const row of facts.order) {
    const above = parent[row];
    if (above >= 0 && stays[above] === 0) continue;
    const world = facts.world(row);
    const outside = above < 0 ? IDENTITY : facts.world(above);
    const toOld = Math.hypot(world[12], world[13], world[14]);
    const isLeft = toOld < Math.hypot(world[12] - x, world[13] - y, world[14] - z);
    if (kind[row] === ASSEMBLY && isLeft && !isSingular(world) && facts.childrenOf(row).length > 0) {
      stays[row] = 1;
      continue;
    }
    const before = isSingular(outside) ? undefined : multiply(invert(outside), multiply(back, outside));
    if (before) putElsewhere(edit, row, { before });
    else problems.push(`${scene.nodes.text('name', row)} stays where it is: something above it has a scale of zero.`);
  }
  return problems;
}

function middleOf(box: ReturnType<typeof worldBox>): Vector | undefined {
  return box && [(box.min[0] + box.max[0]) / 2, (box.min[1] + box.max[1]) / 2, (box.min[2] + box.max[2]) / 2];
}
