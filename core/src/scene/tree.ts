/** Walking the flat table of nodes: children, world transforms, descendants, boxes. */
import type { Matrix, Vector } from './matrix.ts';
import { IDENTITY, multiply, transformPoint, translation } from './matrix.ts';
import type { Box, Scene, SceneNode } from './types.ts';

export function byId(scene: Scene): Map<number, SceneNode> {
  return new Map(scene.nodes.map((node) => [node.id, node]));
}

/** Child nodes by id of the parent (null for the roots), in document order. */
export function childrenOf(scene: Scene): Map<number | null, SceneNode[]> {
  const out = new Map<number | null, SceneNode[]>();
  for (const node of scene.nodes) {
    const list = out.get(node.parent);
    if (list) list.push(node);
    else out.set(node.parent, [node]);
  }
  return out;
}

const worldsOf = new WeakMap<Scene, Map<number, Matrix>>();

/** World transform of every node by id, made once per scene. Parents stand before their children in the table. */
export function worldTransforms(scene: Scene): Map<number, Matrix> {
  const known = worldsOf.get(scene);
  if (known) return known;
  const out = new Map<number, Matrix>();
  for (const node of scene.nodes) {
    const parent = node.parent === null ? IDENTITY : (out.get(node.parent) ?? IDENTITY);
    out.set(node.id, multiply(parent, node.transform));
  }
  worldsOf.set(scene, out);
  return out;
}

/** World transform of a node's geometry: its own, with the offset from the pivot. */
export function geometryTransform(node: SceneNode, world: Matrix): Matrix {
  return node.offset ? multiply(world, translation(node.offset)) : world;
}

/** The ids given and those of everything below them. */
export function withDescendants(scene: Scene, ids: ReadonlySet<number>): Set<number> {
  const out = new Set<number>();
  for (const node of scene.nodes)
    if (ids.has(node.id) || (node.parent !== null && out.has(node.parent))) out.add(node.id);
  return out;
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

/**
 * World box of some parts, metres; undefined where none has geometry. Exact where the positions are given; without them
 * from the corners of the parts' own boxes, which is never too small.
 */
export function worldBox(
  scene: Scene,
  parts: Iterable<SceneNode>,
  worlds: Map<number, Matrix>,
  positionsOf?: PositionsOf,
): Box | undefined {
  const box = emptyBox();
  for (const node of parts) {
    const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
    if (!figures || !node.mesh) continue;
    const matrix = geometryTransform(node, worlds.get(node.id) ?? IDENTITY);
    const positions = axisAligned(matrix) ? undefined : positionsOf?.(node.mesh);
    if (positions) {
      for (let i = 0; i < positions.length; i += 3)
        include(box, transformPoint(matrix, [positions[i], positions[i + 1], positions[i + 2]]));
    } else {
      for (const corner of corners(figures.bounds)) include(box, transformPoint(matrix, corner));
    }
  }
  return Number.isFinite(box.min[0]) ? box : undefined;
}

/** True where every axis goes to an axis, so that the transformed corners give the exact box. */
function axisAligned(m: Matrix): boolean {
  for (let column = 0; column < 3; column++) {
    let big = 0;
    for (let row = 0; row < 3; row++) if (Math.abs(m[column * 4 + row]) > 1e-9) big++;
    if (big !== 1) return false;
  }
  return true;
}
