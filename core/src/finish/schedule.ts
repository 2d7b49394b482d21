/**
 * A finish schedule laid over a scene: which rule wins on each part, what each takes hold of, and what it takes from others. Rules stand
 * in the order of precedence: what is general first, and the later of two that name the same slot wins.
 */
import { PART } from '../scene/nodes.ts';
import { Rows } from '../scene/rowSet.ts';
import type { RowSet } from '../scene/rowSet.ts';
import type { Scene } from '../scene/types.ts';
import { claimsOf } from './claims.ts';
import { lotsOf, namesOf } from './lots.ts';
import type { Lot, Named } from './lots.ts';
import type { FinishRule } from './rule.ts';
import { Slots } from './slots.ts';

/** Instead of the number of a rule: none won, or (of a part) different ones on its slots. */
export const NO_RULE = -1;
export const PARTED = -2;

/** How many parts one rule took from another one. */
export interface Taken {
  rule: number;
  parts: number;
}

/** What a rule takes hold of. */
export interface ScheduleLine {
  /** Parts that it names, and the triangles of their slots that it names. */
  parts: number;
  triangles: number;
  /** Parts on which it has won somewhere. */
  won: number;
  /** Earlier rules that it wins over, and later ones that win over it. */
  overrides: Taken[];
  overridden: Taken[];
}

/** What the rules come to on the parts of a lot. */
export interface Outcome {
  named: readonly Named[];
  /** The rule that won, by slot. */
  owners: Int16Array;
}

const NOTHING: Outcome = { named: [], owners: new Int16Array() };

export class Schedule {
  readonly lines: readonly ScheduleLine[];
  /** The parts that it is about, and the number of the lot of each. */
  readonly parts: Int32Array;
  readonly lotOf: Int32Array;
  readonly lots: readonly Lot[];
  readonly slots: Slots;
  /** Parts that no rule has won on. */
  readonly unruled: number;
  readonly #outcomes: Outcome[];

  constructor(
    readonly scene: Scene,
    rows: RowSet,
    readonly rules: readonly FinishRule[],
  ) {
    this.slots = new Slots(scene);
    this.parts = partsAmong(scene, rows);
    const isOn = ({ on }: FinishRule) => on !== false;
    const claims = claimsOf(scene, rules.filter(isOn).map(({ which }) => which), this.slots); // prettier-ignore
    let next = 0;
    const { lots, lotOf } = lotsOf(this.parts, rules.map((rule) => (isOn(rule) ? claims[next++] : undefined)), this.slots); // prettier-ignore
    this.lots = lots;
    this.lotOf = lotOf;
    const lines: ScheduleLine[] = rules.map(() => ({ parts: 0, triangles: 0, won: 0, overrides: [], overridden: [] }));
    const taken = rules.map(() => new Map<number, number>());
    let unruled = 0;
    this.#outcomes = lots.map((lot) => {
      if (lot.parts === 0) return NOTHING;
      const named = namesOf(lot);
      const owners = new Int16Array(lot.triangles.length).fill(NO_RULE);
      for (const { rule, slots } of named) {
        const line = lines[rule];
        line.parts += lot.parts;
        const before = new Set<number>();
        for (let slot = 0; slot < owners.length; slot++) {
          if (slots && !slots.includes(slot)) continue;
          line.triangles += lot.triangles[slot];
          if (owners[slot] >= 0) before.add(owners[slot]);
          owners[slot] = rule;
        }
        for (const other of before) taken[rule].set(other, (taken[rule].get(other) ?? 0) + lot.parts);
      }
      const winners = new Set(owners);
      for (const rule of winners) if (rule >= 0) lines[rule].won += lot.parts;
      if (winners.size === 0 || (winners.size === 1 && winners.has(NO_RULE))) unruled += lot.parts;
      return { named, owners };
    });
    for (const [rule, from] of taken.entries())
      for (const [other, parts] of [...from].sort(([a], [b]) => a - b)) {
        lines[rule].overrides.push({ rule: other, parts });
        lines[other].overridden.push({ rule, parts });
      }
    this.lines = lines;
    this.unruled = unruled;
  }

  /** What the rules come to on a part; undefined for a row that the schedule is not about. */
  outcomeOf(row: number): Outcome | undefined {
    const place = this.#placeOf(row);
    return place < 0 ? undefined : this.#outcomes[this.lotOf[place]];
  }

  /** The rules that won by slot, of a lot. */
  ownersIn(lot: number): Int16Array {
    return this.#outcomes[lot].owners;
  }

  /** By row: the rule that won, `NO_RULE` or `PARTED`. */
  winners(): Int16Array {
    const out = new Int16Array(this.scene.nodes.rows).fill(NO_RULE);
    const whole = this.#outcomes.map(({ owners }) =>
      owners.length === 0 ? NO_RULE : owners.every((rule) => rule === owners[0]) ? owners[0] : PARTED,
    );
    for (let i = 0; i < this.parts.length; i++) out[this.parts[i]] = whole[this.lotOf[i]];
    return out;
  }

  #placeOf(row: number): number {
    let [low, high] = [0, this.parts.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.parts[middle] < row) low = middle + 1;
      else high = middle;
    }
    return this.parts[low] === row ? low : -1;
  }
}

function partsAmong({ nodes }: Scene, rows: RowSet): Int32Array {
  const { kind } = nodes.columns;
  const out = new Int32Array(nodes.rows);
  const mask = rows instanceof Rows ? rows.mask : undefined;
  let length = 0;
  for (let row = 0; row < out.length; row++)
    if (kind[row] === PART && (mask ? mask[row] === 1 : rows.has(row))) out[length++] = row;
  return out.subarray(0, length);
}

/** The schedule that was made last for a list of rules: it is asked for by the step, by the table, and by who asks why. */
const known = new WeakMap<readonly FinishRule[], Schedule>();

export function scheduleOf(scene: Scene, rows: RowSet, rules: readonly FinishRule[]): Schedule {
  const before = known.get(rules);
  if (before?.scene === scene && isAbout(before, rows)) return before;
  const made = new Schedule(scene, rows, rules);
  known.set(rules, made);
  return made;
}

function isAbout({ scene, parts }: Schedule, rows: RowSet): boolean {
  const again = partsAmong(scene, rows);
  return again.length === parts.length && again.every((row, i) => row === parts[i]);
}
