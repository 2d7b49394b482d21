/** Hangs rows under others while everything stays where it stands; and what of a tree has to be known for it. */
import type { SceneEditor } from './editor.ts';
import { factsOf } from './facts.ts';
import type { SceneFacts } from './facts.ts';
import { IDENTITY, invert, isIdentity, isSingular, multiply } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import { putElsewhere } from './motion.ts';
import { ASSEMBLY, GONE } from './nodes.ts';
import { matrixAt, putMatrix, STRIDE } from './places.ts';
import type { RowSet } from './rowSet.ts';

/** Stands for a way that does not exist: something above has no extent in a direction; and for one that changes nothing. */
const NONE = 'none';
const STAYS = 'stays';
/** What a place in one parent is multiplied by to stay in another, as twelve numbers. */
type Way = Float64Array | typeof NONE | typeof STAYS;

export class Rehanging {
  readonly #facts: SceneFacts;
  /** Places in the world of rows that are made, or brought back, by the same edit. */
  readonly #own = new Map<number, Matrix>();
  /** By both parents. */
  readonly #ways = new Map<number, Map<number, Way>>();
  #last: { from: number; to: number; way: Way } = { from: NaN, to: NaN, way: NONE };
  /** Rows that could not be hung elsewhere, as a scale of zero above them has no way back. */
  readonly stuck: number[] = [];
  /** How many hang elsewhere. */
  count = 0;

  constructor(readonly edit: SceneEditor) {
    this.#facts = factsOf(edit.scene);
  }

  /** Tells where a row stands that the scene does not have yet. */
  made(row: number, world: Matrix): void {
    this.#own.set(row, world);
  }

  worldOf(row: number): Matrix {
    return row < 0 ? IDENTITY : (this.#own.get(row) ?? this.#facts.world(row));
  }

  /** Hangs a row under another one, or (-1) under none. Each row once: from where it hung in the scene. */
  hang(row: number, to: number): void {
    const from = this.edit.scene.nodes.columns.parent[row];
    if (from === to) return;
    const way = this.#way(from, to);
    if (way === NONE) {
      this.stuck.push(row);
      return;
    }
    this.edit.setParent(row, to < 0 ? null : to);
    if (way !== STAYS && !this.edit.placeBefore(row, way)) putElsewhere(this.edit, row, { before: matrixAt(way, 0) });
    this.count++;
  }

  #way(from: number, to: number): Way {
    // Most come one after the other from where the last one hung.
    if (from === this.#last.from && to === this.#last.to) return this.#last.way;
    const way = this.#wayOf(from, to);
    this.#last = { from, to, way };
    return way;
  }

  #wayOf(from: number, to: number): Way {
    let ways = this.#ways.get(to);
    if (!ways) this.#ways.set(to, (ways = new Map()));
    let way = ways.get(from);
    if (way === undefined) {
      const world = this.worldOf(to);
      const made = isSingular(world) ? undefined : multiply(invert(world), this.worldOf(from));
      way = made ? (isIdentity(made, 0) ? STAYS : twelveOf(made)) : NONE;
      ways.set(from, way);
    }
    return way;
  }

  /** What could not be done, in words. */
  get problems(): string[] {
    const { nodes } = this.edit.scene;
    return this.stuck.map(
      (row) => `${nodes.text('name', row)} stays where it is: something above it has a scale of zero.`,
    );
  }
}

function twelveOf(matrix: Matrix): Float64Array {
  const out = new Float64Array(STRIDE);
  putMatrix(matrix, out, 0);
  return out;
}

/** The rows among some that are below none of the others, in the order of the tree. */
export function topmost(facts: SceneFacts, rows: RowSet): number[] {
  const { parent } = facts.nodes.columns;
  const inside = new Uint8Array(facts.nodes.rows);
  const out: number[] = [];
  for (const row of facts.order) {
    const above = parent[row];
    const isBelow = above >= 0 && (inside[above] === 1 || rows.has(above));
    if (isBelow) inside[row] = 1;
    else if (rows.has(row)) out.push(row);
  }
  return out;
}

/** The nearest row above all of some; -1 where they have none in common. */
export function commonParent(facts: SceneFacts, rows: readonly number[]): number {
  const { parent } = facts.nodes.columns;
  const pathOf = (row: number) => {
    const path: number[] = [];
    for (let above = parent[row]; above >= 0; above = parent[above]) path.push(above);
    return path.reverse();
  };
  const [first = [], ...others] = rows.map(pathOf);
  let depth = first.length;
  for (const path of others) {
    let same = 0;
    while (same < depth && path[same] === first[same]) same++;
    depth = same;
  }
  return depth === 0 ? -1 : first[depth - 1];
}

/** True for a row, and for what is above it. */
export function isAtOrAbove(facts: SceneFacts, row: number, below: number): boolean {
  const { parent } = facts.nodes.columns;
  for (let at = below; at >= 0; at = parent[at]) if (at === row) return true;
  return false;
}

/**
 * Takes assemblies away that held something and hold nothing any more, and those that held only these.
 * @param parentAfter where each row hangs after the edit; GONE rows are passed over
 * @param mayGo those that are taken away at all
 */
export function removeEmptied(
  edit: SceneEditor,
  parentAfter: Int32Array,
  mayGo: (row: number) => boolean = () => true,
): number {
  const { scene } = edit;
  const facts = factsOf(scene);
  const { kind } = scene.nodes.columns;
  const held = new Int32Array(parentAfter.length);
  for (let row = 0; row < parentAfter.length; row++)
    if (kind[row] !== GONE && parentAfter[row] >= 0) held[parentAfter[row]]++;
  let count = 0;
  const { order } = facts;
  for (let i = order.length - 1; i >= 0; i--) {
    let row = order[i];
    // Upwards from an empty one, as its parent may come before or after it in the order after the edit.
    while (row >= 0 && kind[row] === ASSEMBLY && held[row] === 0 && facts.childrenOf(row).length > 0 && mayGo(row)) {
      held[row] = -1;
      edit.remove(row);
      count++;
      row = parentAfter[row];
      if (row >= 0) held[row]--;
    }
  }
  return count;
}
