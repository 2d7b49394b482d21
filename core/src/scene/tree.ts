/** Walking the table of nodes: world transforms, descendants, boxes. */
import type { Matrix, Vector } from './matrix.ts';
import { factsOf } from './facts.ts';
import { multiply } from './matrix.ts';
import { GONE } from './nodes.ts';
import { multiplyAt, STRIDE } from './places.ts';
import { NO_ROWS, Rows } from './rowSet.ts';
import type { RowSet } from './rowSet.ts';
import type { Box, Scene, SceneNode } from './types.ts';

/** Places in the world by row; undefined for rows that are not there. */
export interface Worlds {
  get(row: number): Matrix | undefined;
}

/** World transform of every node, made once per scene. */
export function worldTransforms(scene: Scene): Worlds {
  const facts = factsOf(scene);
  return { get: (row) => (scene.nodes.has(row) ? facts.world(row) : undefined) };
}

/** World transform of a node's geometry: its own, with the offset from the pivot. */
export function geometryTransform(node: SceneNode, world: Matrix): Matrix {
  return node.offset ? multiply(world, node.offset) : world;
}

/** Longest side of a row as it stands in the job, along the axes of its geometry, metres; undefined where it has none. Of many: `facts.longest`. */
export function longestSide(scene: Scene, node: SceneNode): number | undefined {
  const bounds = node.mesh ? scene.meshes[node.mesh]?.bounds : undefined;
  if (!bounds) return undefined;
  const place = geometryTransform(node, factsOf(scene).world(node.id));
  return [0, 1, 2].reduce((most, axis) => {
    const factor = Math.hypot(place[axis * 4], place[axis * 4 + 1], place[axis * 4 + 2]);
    return Math.max(most, (bounds.max[axis] - bounds.min[axis]) * factor);
  }, 0);
}

/** From so many rows on all of them are gone through, instead of what is below each. */
const FEW = 5000;

/** The rows given and everything below them. */
export function withDescendants(scene: Scene, rows: RowSet): Rows {
  if (rows.size === 0) return NO_ROWS;
  const mask = new Uint8Array(scene.nodes.rows);
  const facts = factsOf(scene);
  if (rows.size <= FEW) {
    const { start, list } = facts.children;
    const waiting = [...rows].filter((row) => scene.nodes.has(row));
    for (let row = waiting.pop(); row !== undefined; row = waiting.pop()) {
      if (mask[row] === 1) continue;
      mask[row] = 1;
      for (let i = start[row + 1]; i < start[row + 2]; i++) waiting.push(list[i]);
    }
    return new Rows(mask);
  }
  const { parent } = scene.nodes.columns;
  for (const row of facts.order) if (rows.has(row) || (parent[row] >= 0 && mask[parent[row]] === 1)) mask[row] = 1;
  return new Rows(mask);
}

export function emptyBox(): { min: [number, number, number]; max: [number, number, number] } {
  return { min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] };
}

/** Widens a box by a point. */
export function include(box: { min: number[]; max: number[] }, point: ArrayLike<number>, at = 0): void {
  for (let axis = 0; axis < 3; axis++) {
    if (point[at + axis] < box.min[axis]) box.min[axis] = point[at + axis];
    if (point[at + axis] > box.max[axis]) box.max[axis] = point[at + axis];
  }
}

export function corners({ min, max }: Box): Vector[] {
  return [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [(i & 1 ? max : min)[0], (i & 2 ? max : min)[1], (i & 4 ? max : min)[2]]);
}

/** Vertex positions of a mesh, where they are at hand. */
export type PositionsOf = (mesh: string) => ArrayLike<number> | undefined;

/** Vertices that are gone through for a box at most; beyond, the corners of the parts' own boxes have to do. */
const MOST_VERTICES = 4_000_000;

/**
 * World box of some rows, metres; undefined where none has geometry. Exact where the positions are given; without them
 * from the corners of the parts' own boxes, which is never too small.
 * @param rows all where absent
 * @param worlds places of the rows, where they are others than those of the scene at rest
 */
export function worldBox(
  scene: Scene,
  rows?: RowSet,
  positionsOf?: PositionsOf,
  worlds: Float64Array = factsOf(scene).worlds,
): Box | undefined {
  const work = worldBoxInTurns(scene, rows, positionsOf, worlds);
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}

/** Rows or vertices after which others may have their turn. */
const TURN = 10_000;

/** {@link worldBox}, for those who let others have their turn in between. */
export function* worldBoxInTurns(
  scene: Scene,
  rows: RowSet | undefined,
  positionsOf: PositionsOf | undefined,
  worlds: Float64Array,
): Generator<void, Box | undefined> {
  let turn = 0;
  const { nodes } = scene;
  const { kind, mesh, offset } = nodes.columns;
  const { places, words } = nodes.tables;
  const mask = rows instanceof Rows ? rows.mask : undefined;
  /** Bounds of each mesh: where they stand in `bounds`, from 1; 0 while they were not asked for. */
  const numbers = new Int32Array(words.length);
  const bounds: number[] = [];
  const box = new Bounds();
  let vertices = 0;
  for (let row = 0; row < nodes.rows; row++) {
    const word = mesh[row];
    if (++turn > TURN) {
      turn = 0;
      yield;
    }
    if (word === 0 || kind[row] === GONE) continue;
    if (mask ? mask[row] !== 1 : rows && !rows.has(row)) continue;
    if (numbers[word] === 0) {
      // Looked for among all the others.
      turn += 5;
      const { min, max } = scene.meshes[words.get(word)].bounds;
      numbers[word] = bounds.length / 6 + 1;
      bounds.push(...min, ...max);
    }
    let [place, at] = [worlds, row * STRIDE];
    if (offset[row] > 0) {
      const { values, at: o } = places.locate(offset[row]);
      multiplyAt(worlds, at, values, o, PLACE, 0);
      [place, at] = [PLACE, 0];
    }
    const positions =
      positionsOf && vertices < MOST_VERTICES && !axisAligned(place, at) ? positionsOf(words.get(word)) : undefined;
    if (positions) {
      vertices += positions.length / 3;
      turn += positions.length / 3;
      for (let i = 0; i < positions.length; i += 3)
        box.addPoint(place, at, positions[i], positions[i + 1], positions[i + 2]);
    } else box.addBox(place, at, bounds, (numbers[word] - 1) * 6);
  }
  return box.box;
}

/** Where the geometry of a row stands that does not sit at its pivot. */
const PLACE = new Float64Array(STRIDE);

/** A box that grows: plain numbers, since it is widened a million times. */
export class Bounds {
  #x0 = Infinity;
  #y0 = Infinity;
  #z0 = Infinity;
  #x1 = -Infinity;
  #y1 = -Infinity;
  #z1 = -Infinity;

  get box(): Box | undefined {
    if (this.#x0 > this.#x1) return undefined;
    return { min: [this.#x0, this.#y0, this.#z0], max: [this.#x1, this.#y1, this.#z1] };
  }

  /** A point of a frame. */
  addPoint(w: Float64Array, at: number, x: number, y: number, z: number): void {
    const px = w[at] * x + w[at + 3] * y + w[at + 6] * z + w[at + 9];
    const py = w[at + 1] * x + w[at + 4] * y + w[at + 7] * z + w[at + 10];
    const pz = w[at + 2] * x + w[at + 5] * y + w[at + 8] * z + w[at + 11];
    this.#add(px, py, pz, px, py, pz);
  }

  /** A box of a frame: its eight corners, without going through them. @param b six numbers from `i` on, min and max */
  addBox(w: Float64Array, at: number, b: readonly number[], i: number): void {
    const cx = (b[i] + b[i + 3]) / 2;
    const cy = (b[i + 1] + b[i + 4]) / 2;
    const cz = (b[i + 2] + b[i + 5]) / 2;
    const hx = (b[i + 3] - b[i]) / 2;
    const hy = (b[i + 4] - b[i + 1]) / 2;
    const hz = (b[i + 5] - b[i + 2]) / 2;
    const px = w[at] * cx + w[at + 3] * cy + w[at + 6] * cz + w[at + 9];
    const py = w[at + 1] * cx + w[at + 4] * cy + w[at + 7] * cz + w[at + 10];
    const pz = w[at + 2] * cx + w[at + 5] * cy + w[at + 8] * cz + w[at + 11];
    const ex = Math.abs(w[at]) * hx + Math.abs(w[at + 3]) * hy + Math.abs(w[at + 6]) * hz;
    const ey = Math.abs(w[at + 1]) * hx + Math.abs(w[at + 4]) * hy + Math.abs(w[at + 7]) * hz;
    const ez = Math.abs(w[at + 2]) * hx + Math.abs(w[at + 5]) * hy + Math.abs(w[at + 8]) * hz;
    this.#add(px - ex, py - ey, pz - ez, px + ex, py + ey, pz + ez);
  }

  #add(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number): void {
    if (x0 < this.#x0) this.#x0 = x0;
    if (y0 < this.#y0) this.#y0 = y0;
    if (z0 < this.#z0) this.#z0 = z0;
    if (x1 > this.#x1) this.#x1 = x1;
    if (y1 > this.#y1) this.#y1 = y1;
    if (z1 > this.#z1) this.#z1 = z1;
  }
}

/** True where every axis goes to an axis, so that the transformed corners give the exact box. */
function axisAligned(w: Float64Array, at: number): boolean {
  for (let column = at; column < at + 9; column += 3) {
    const big =
      (Math.abs(w[column]) > 1e-9 ? 1 : 0) +
      (Math.abs(w[column + 1]) > 1e-9 ? 1 : 0) +
      (Math.abs(w[column + 2]) > 1e-9 ? 1 : 0);
    if (big !== 1) return false;
  }
  return true;
}
