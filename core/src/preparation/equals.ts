/**
 * Rows of equal names on their way to another job: their ordinal says nothing there, so a key goes with what its row is told by, shape
 * and place as its source has them. What is decided of one of four bolts is so done to that bolt, or to none.
 */
import { factsOf } from '../scene/facts.ts';
import { hashData } from '../scene/hash.ts';
import { Rows } from '../scene/recognise.ts';
import type { Scene } from '../scene/types.ts';
import type { Step } from '../steps/kinds.ts';
import { movedSteps } from './template.ts';

/** Before what a row is told by, behind its part of the path: no name of a file has it. */
const MARK = '\u001f';
const SHORT = 8;
const short = (text: string) => hashData(text).slice(0, SHORT);

/** The steps as they go to another job. @param scene the sources as received */
export function signedSteps(scene: Scene, steps: readonly Step[]): Step[] {
  return movedSteps(steps, { slot: (slot) => slot, key: signing(scene) });
}

/** Says of a key what its row is told by, and each above it, where others beside it are called the same. */
export function signing(scene: Scene): (key: string) => string {
  const { nodes } = scene;
  const { origin, ordinal } = nodes.columns;
  const facts = factsOf(scene);
  const rows = new Rows(scene);
  const below = belowIn(rows);
  const equals = (row: number) => below(origin[row] < 0 ? null : origin[row]).get(nodes.text('segment', row)) ?? [];
  return (key) => {
    const found = key.includes(MARK) ? undefined : facts.rowOf(key);
    if (found === undefined) return key;
    const parts: string[] = [];
    let isPlain = true;
    for (let row = found; row >= 0; row = origin[row]) {
      const sign = equals(row).length > 1 ? `${MARK}${short(rows.shape(row))}${short(rows.place(row))}` : '';
      if (sign !== '') isPlain = false;
      parts.push(`${nodes.text('segment', row)}${ordinal[row] > 1 ? `#${ordinal[row]}` : ''}${sign}`);
    }
    return isPlain ? key : parts.reverse().join('/');
  };
}

const settledFor = new WeakMap<readonly Step[], { scene: Scene; steps: readonly Step[] }>();

/** The steps with the rows of this job for what keys are told by; a key that none, or no single one, of its rows answers to stays as it came, and is found nowhere. */
export function settledSteps(scene: Scene, steps: readonly Step[]): readonly Step[] {
  const known = settledFor.get(steps);
  if (known?.scene === scene) return known.steps;
  let settle: ((key: string) => string) | undefined;
  const moved = movedSteps(steps, {
    slot: (slot) => slot,
    key: (key) => (key.includes(MARK) ? (settle ??= settling(scene))(key) : key),
  });
  const made = settle ? moved : steps;
  settledFor.set(steps, { scene, steps: made });
  return made;
}

function settling(scene: Scene): (key: string) => string {
  const { nodes } = scene;
  const { ordinal } = nodes.columns;
  const rows = new Rows(scene);
  const below = belowIn(rows);
  return (key) => {
    let above: number | null = null;
    const parts: string[] = [];
    // Names may hold a slash: a part ends where a row answers to it.
    let rest = key.split('/');
    while (rest.length > 0) {
      const there = below(above);
      let found: number | undefined;
      for (let count = 1; count <= rest.length && found === undefined; count++) {
        found = answering(rows, there, rest.slice(0, count).join('/'), nodes.columns.ordinal);
        if (found !== undefined) rest = rest.slice(count);
      }
      if (found === undefined) return key;
      parts.push(`${nodes.text('segment', found)}${ordinal[found] > 1 ? `#${ordinal[found]}` : ''}`);
      above = found;
    }
    return parts.join('/');
  };
}

/** Rows below one by the last part of their path, looked for once. */
function belowIn(rows: Rows): (above: number | null) => ReadonlyMap<string, number[]> {
  const known = new Map<number | null, ReadonlyMap<string, number[]>>();
  return (above) => {
    let there = known.get(above);
    if (!there) known.set(above, (there = rows.bySegment(above)));
    return there;
  };
}

/** The row that a part of a key means, among those below one. */
function answering(
  rows: Rows,
  there: ReadonlyMap<string, number[]>,
  part: string,
  ordinals: Int32Array,
): number | undefined {
  const [called, sign] = part.split(MARK);
  const [, plain, number = '1'] = /^(.*?)(?:#(\d+))?$/s.exec(called) as RegExpExecArray;
  const byOrdinal = (list: readonly number[], ordinal: number) => list.find((row) => ordinals[row] === ordinal);
  const named = there.get(called);
  if (!sign) return named ? byOrdinal(named, 1) : byOrdinal(there.get(plain) ?? [], Number(number));
  const equals = named ?? there.get(plain) ?? [];
  if (equals.length === 1) return equals[0];
  const [shape, place] = [sign.slice(0, SHORT), sign.slice(SHORT)];
  const sameShape = equals.filter((row) => short(rows.shape(row)) === shape);
  const both = sameShape.filter((row) => short(rows.place(row)) === place);
  // Those that are alike in all are as good as each other.
  if (both.length > 0) return byOrdinal(both, Number(number)) ?? both[0];
  if (sameShape.length === 1) return sameShape[0];
  const samePlace = equals.filter((row) => short(rows.place(row)) === place);
  if (samePlace.length === 1) return samePlace[0];
  // Where all are of this one shape their order is what tells them.
  return sameShape.length === equals.length ? byOrdinal(equals, Number(number)) : undefined;
}
