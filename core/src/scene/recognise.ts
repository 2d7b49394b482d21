/**
 * Recognises the rows of a source in its next revision, so that what was decided of a row stays with it. Rows are told by their path of
 * names; among siblings of one name shape and place decide before their order: each row that is recognised keeps the ordinal that it had,
 * and one that is not gets an ordinal that nobody had, so that nothing which was decided of another is done to it.
 */
import { factsOf } from './facts.ts';
import { hashData } from './hash.ts';
import { NodeTable } from './nodes.ts';
import type { Scene } from './types.ts';

/** Places nearer than this are one, metres and parts of one: files write so many digits, and no more. */
const SAME_PLACE = 1e-6;

/** @returns the scene with the keys that its rows had before; the very same where nothing is otherwise */
export function recognised(before: Scene, after: Scene): Scene {
  const { columns, tables } = after.nodes;
  const ordinal = columns.ordinal.slice();
  const [old, fresh] = [new Rows(before), new Rows(after)];
  const open: [number | null, number | null][] = [[null, null]];
  for (let pair = open.pop(); pair; pair = open.pop()) {
    const olds = old.bySegment(pair[0]);
    for (const [segment, rows] of fresh.bySegment(pair[1])) {
      const had = olds.get(segment) ?? [];
      const same = pairsOf(old, had, fresh, rows);
      // Ordinals that somebody had are not given to others.
      let next = Math.max(0, ...had.map((row) => before.nodes.columns.ordinal[row]));
      for (const row of rows) {
        const was = same.get(row);
        if (was === undefined) ordinal[row] = ++next;
        else {
          ordinal[row] = before.nodes.columns.ordinal[was];
          if (fresh.hasBelow(row)) open.push([was, row]);
        }
      }
    }
  }
  if (ordinal.every((value, row) => value === columns.ordinal[row])) return after;
  return { ...after, nodes: new NodeTable({ ...columns, ordinal }, tables) };
}

/** New rows of one name under one row, with the old ones that they are. */
function pairsOf(old: Rows, had: readonly number[], fresh: Rows, rows: readonly number[]): Map<number, number> {
  const out = new Map<number, number>();
  // One of its name is told by that, whatever became of it.
  if (had.length === 1 && rows.length === 1) return out.set(rows[0], had[0]);
  if (had.length === 0) return out;
  let [before, after] = [[...had], [...rows]];
  const take = (pairs: Iterable<[row: number, was: number]>) => {
    for (const [row, was] of pairs) out.set(row, was);
    const taken = new Set(out.values());
    before = before.filter((row) => !taken.has(row));
    after = after.filter((row) => !out.has(row));
  };
  const both = (rowsOf: Rows) => (row: number) => `${rowsOf.shape(row)} ${rowsOf.place(row)}`;
  // Those that are alike in all are as good as each other.
  take(alike(before, both(old), after, both(fresh), false));
  take(
    alike(
      before,
      (row) => old.shape(row),
      after,
      (row) => fresh.shape(row),
      true,
    ),
  );
  take(
    alike(
      before,
      (row) => old.place(row),
      after,
      (row) => fresh.place(row),
      true,
    ),
  );
  // All of them were moved, and none came or went.
  const isSameRow =
    before.length === after.length && before.every((row, i) => old.shape(row) === fresh.shape(after[i]));
  if (isSameRow) take(after.map((row, i) => [row, before[i]]));
  return out;
}

/** Rows that have the same said of them. @param single only where one alone has it, before and after */
function* alike(
  before: readonly number[],
  ofOld: (row: number) => string,
  after: readonly number[],
  ofNew: (row: number) => string,
  single: boolean,
): Generator<[row: number, was: number]> {
  const [olds, news] = [grouped(before, ofOld), grouped(after, ofNew)];
  for (const [words, rows] of news) {
    const was = olds.get(words) ?? [];
    if (single && (rows.length !== 1 || was.length !== 1)) continue;
    for (let i = 0; i < Math.min(rows.length, was.length); i++) yield [rows[i], was[i]];
  }
}

function grouped<K>(rows: Iterable<number>, of: (row: number) => K): Map<K, number[]> {
  const out = new Map<K, number[]>();
  for (const row of rows) {
    const key = of(row);
    const group = out.get(key);
    if (group) group.push(row);
    else out.set(key, [row]);
  }
  return out;
}

/** What rows are recognised by. */
export class Rows {
  readonly #shapes = new Map<number, string>();

  constructor(readonly scene: Scene) {}

  /** Rows below one, by the last part of their path. */
  bySegment(parent: number | null): Map<string, number[]> {
    const { nodes } = this.scene;
    return grouped(factsOf(this.scene).childrenOf(parent), (row) => nodes.text('segment', row));
  }

  hasBelow(row: number): boolean {
    return factsOf(this.scene).childrenOf(row).length > 0;
  }

  place(row: number): string {
    return this.scene.nodes.place(row).map((value) => Math.round(value / SAME_PLACE) + 0).join(); // prettier-ignore
  }

  /** The geometry of a row and of all that is below it, with where it stands there. */
  shape(top: number): string {
    const { nodes } = this.scene;
    const facts = factsOf(this.scene);
    // A list of its own rather than calls in calls: a source may be a hundred thousand levels deep.
    const open = [top];
    while (open.length > 0) {
      const row = open[open.length - 1];
      const below = [...facts.childrenOf(row)];
      const unknown = below.filter((child) => !this.#shapes.has(child));
      if (unknown.length > 0) {
        open.push(...unknown);
        continue;
      }
      open.pop();
      const own = nodes.word('solid', row) || nodes.word('mesh', row);
      const inner = below.map((child) => [nodes.text('segment', child), this.place(child), this.#shapes.get(child)]);
      this.#shapes.set(row, inner.length === 0 ? own : hashData([own, inner]));
    }
    return this.#shapes.get(top) as string;
  }
}
