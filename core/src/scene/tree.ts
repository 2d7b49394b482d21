/** Walking the table of nodes: world transforms, descendants, boxes. */
import type { Matrix, Vector } from './matrix.ts';
import { factsOf } from './facts.ts';
import { multiply, translation } from './matrix.ts';
import { GONE } from './nodes.ts';
import { STRIDE } from './places.ts';
import { Rows } from './rowSet.ts';
import type { RowSet } from './rowSet.ts';
import type { Box, MeshFigures, Scene, SceneNode } from './types.ts';

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
  return node.offset ? multiply(world, translation(node.offset)) : world;
}

/** The rows given and everything below them. */
export function withDescendants(scene: Scene, rows: RowSet): Rows {
  const mask = new Uint8Array(scene.nodes.rows);
  if (rows.size > 0) {
    const { parent } = scene.nodes.columns;
    for (const row of factsOf(scene).order)
      if (rows.has(row) || (parent[row] >= 0 && mask[parent[row]] === 1)) mask[row] = 1;
  }
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
  const { nodes } = scene;
  const { kind, mesh, offset } = nodes.columns;
  const { places, words } = nodes.tables;
  const figures: (MeshFigures | undefined)[] = [];
  const box = emptyBox();
  let vertices = 0;
  for (let row = 0; row < nodes.rows; row++) {
    if (mesh[row] === 0 || kind[row] === GONE || (rows && !rows.has(row))) continue;
    const known = (figures[mesh[row]] ??= scene.meshes[words.get(mesh[row])]);
    const at = row * STRIDE;
    const { values, at: o } = places.locate(offset[row]);
    const [x, y, z] = [values[o + 9], values[o + 10], values[o + 11]];
    const positions =
      positionsOf && vertices < MOST_VERTICES && !axisAligned(worlds, at)
        ? positionsOf(words.get(mesh[row]))
        : undefined;
    if (positions) {
      vertices += positions.length / 3;
      for (let i = 0; i < positions.length; i += 3)
        widen(box, worlds, at, positions[i] + x, positions[i + 1] + y, positions[i + 2] + z);
      continue;
    }
    const { min, max } = known.bounds;
    for (let corner = 0; corner < 8; corner++)
      widen(
        box,
        worlds,
        at,
        (corner & 1 ? max[0] : min[0]) + x,
        (corner & 2 ? max[1] : min[1]) + y,
        (corner & 4 ? max[2] : min[2]) + z,
      );
  }
  return Number.isFinite(box.min[0]) ? box : undefined;
}

/** Widens a box by a point of a frame. */
function widen(
  box: { min: number[]; max: number[] },
  w: Float64Array,
  at: number,
  x: number,
  y: number,
  z: number,
): void {
  for (let axis = 0; axis < 3; axis++) {
    const value = w[at + axis] * x + w[at + 3 + axis] * y + w[at + 6 + axis] * z + w[at + 9 + axis];
    if (value < box.min[axis]) box.min[axis] = value;
    if (value > box.max[axis]) box.max[axis] = value;
  }
}

/** True where every axis goes to an axis, so that the transformed corners give the exact box. */
function axisAligned(w: Float64Array, at: number): boolean {
  for (let column = 0; column < 3; column++) {
    let big = 0;
    for (let row = 0; row < 3; row++) if (Math.abs(w[at + column * 3 + row]) > 1e-9) big++;
    if (big !== 1) return false;
  }
  return true;
}
