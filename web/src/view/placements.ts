/**
 * Where the parts of one batch stand, as the graphics card has it. The buffers stay where a few parts join or leave: what leaves is
 * replaced by the last ones, so that only what is different is sent.
 */
import { InstancedBufferAttribute } from 'three';
import { GONE } from '@noble-prism/core/scene/nodes';
import { multiplyAt, STRIDE } from '@noble-prism/core/scene/places';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';

export interface Placing {
  scene: Scene;
  /** Places in the world, as the facts of a scene have them. */
  worlds: Float64Array;
  /** Rows that stand elsewhere than before; all are looked at where that is not known. */
  moved?: RowSet;
}

export class Placements {
  /** Sixteen numbers for each part, and room for those that were here once. */
  readonly matrices: InstancedBufferAttribute;
  /** Rows in the order in which they are drawn. */
  rows: Int32Array;
  #given: Int32Array;

  constructor(rows: Int32Array, placing: Placing) {
    this.rows = this.#given = rows;
    this.matrices = new InstancedBufferAttribute(new Float32Array(rows.length * 16), 16);
    const { scene, worlds } = placing;
    this.place({ scene, worlds });
  }

  /** Takes other rows, in any order. False where they do not fit: too many, or so few that the room would be wasted. */
  take(rows: Int32Array, placing: Placing): boolean {
    const room = this.matrices.count;
    if (rows.length > room || rows.length < room / 2) return false;
    const isSame = rows === this.#given || (rows.length === this.rows.length && rows.every((row, i) => row === this.#given[i])); // prettier-ignore
    if (!isSame) this.#exchange(rows, placing);
    this.#given = rows;
    this.place(placing);
    return true;
  }

  #exchange(rows: Int32Array, placing: Placing): void {
    if (marks.length < placing.scene.nodes.rows) marks = new Uint8Array(placing.scene.nodes.rows);
    for (const row of rows) marks[row] = 1;
    const free: number[] = [];
    const homeless: number[] = [];
    const next = new Int32Array(rows.length);
    for (let i = 0; i < Math.max(rows.length, this.rows.length); i++) {
      const row = this.rows[i];
      const stays = i < this.rows.length && marks[row] === 1;
      if (stays) marks[row] = 0;
      if (stays && i < rows.length) next[i] = row;
      else if (stays) homeless.push(row);
      else if (i < rows.length) free.push(i);
    }
    for (const row of rows) {
      if (marks[row] === 1) homeless.push(row);
      marks[row] = 0;
    }
    const changed = new Stretches();
    free.forEach((i, n) => {
      next[i] = homeless[n];
      if (putPlace(placing, homeless[n], this.matrices.array as Float32Array, i)) changed.add(i);
    });
    this.rows = next;
    changed.send(this.matrices);
  }

  /** Enters places where they differ. */
  place({ scene, worlds, moved }: Placing): void {
    if (moved?.size === 0) return;
    const { kind } = scene.nodes.columns;
    const array = this.matrices.array as Float32Array;
    const changed = new Stretches();
    for (let i = 0; i < this.rows.length; i++) {
      const row = this.rows[i];
      // Rows that are no longer there are still drawn, until the batches are made anew.
      if ((moved && !moved.has(row)) || kind[row] === GONE || row >= kind.length) continue;
      if (putPlace({ scene, worlds }, row, array, i)) changed.add(i);
    }
    changed.send(this.matrices);
  }
}

/** A mark for each row of a scene; none is left when work is done. */
let marks = new Uint8Array();

/** What lies closer together is sent as one. */
const NEAR = 64;
/** More stretches than these are sent as one: each costs a call. */
const MOST = 100;

/** Stretches of places that are different, in their order. */
class Stretches {
  readonly #starts: number[] = [];
  readonly #ends: number[] = [];

  add(i: number): void {
    const last = this.#ends.length - 1;
    if (last >= 0 && i - this.#ends[last] <= NEAR) this.#ends[last] = i;
    else {
      this.#starts.push(i);
      this.#ends.push(i);
    }
  }

  send(attribute: InstancedBufferAttribute): void {
    const count = this.#starts.length;
    if (count === 0) return;
    if (attribute.version > 0) {
      const send = (from: number, to: number) => attribute.addUpdateRange(from * 16, (to - from + 1) * 16);
      if (count > MOST) send(this.#starts[0], this.#ends[count - 1]);
      else this.#starts.forEach((from, i) => send(from, this.#ends[i]));
    }
    attribute.needsUpdate = true;
  }
}

const placed = new Float64Array(STRIDE);

/** Writes where a row is drawn. Returns whether that is elsewhere than before. */
function putPlace({ scene: { nodes }, worlds }: Placing, row: number, to: Float32Array, i: number): boolean {
  const offset = nodes.columns.offset[row];
  if (offset === 0) return putWorld(worlds, row * STRIDE, to, i * 16);
  // The geometry does not sit at the pivot of its part.
  const { values, at } = nodes.tables.places.locate(offset);
  multiplyAt(worlds, row * STRIDE, values, at, placed, 0);
  return putWorld(placed, 0, to, i * 16);
}

/** Writes twelve numbers as a matrix of sixteen. Returns whether any is another. */
function putWorld(from: Float64Array, at: number, to: Float32Array, i: number): boolean {
  const { fround } = Math;
  // The translation first: it is what differs most often.
  const isSame =
    to[i + 12] === fround(from[at + 9]) && to[i + 13] === fround(from[at + 10]) && to[i + 14] === fround(from[at + 11]) &&
    to[i] === fround(from[at]) && to[i + 1] === fround(from[at + 1]) && to[i + 2] === fround(from[at + 2]) &&
    to[i + 4] === fround(from[at + 3]) && to[i + 5] === fround(from[at + 4]) && to[i + 6] === fround(from[at + 5]) &&
    to[i + 8] === fround(from[at + 6]) && to[i + 9] === fround(from[at + 7]) && to[i + 10] === fround(from[at + 8]) &&
    to[i + 15] === 1; // prettier-ignore
  if (isSame) return false;
  to[i] = from[at];
  to[i + 1] = from[at + 1];
  to[i + 2] = from[at + 2];
  to[i + 4] = from[at + 3];
  to[i + 5] = from[at + 4];
  to[i + 6] = from[at + 5];
  to[i + 8] = from[at + 6];
  to[i + 9] = from[at + 7];
  to[i + 10] = from[at + 8];
  to[i + 12] = from[at + 9];
  to[i + 13] = from[at + 10];
  to[i + 14] = from[at + 11];
  to[i + 15] = 1;
  return true;
}
