/** A scene as plain data, row by row, and its hash: the same for scenes that say the same, however their tables came about. */
import { hashData } from './hash.ts';
import { plainNode } from './nodes.ts';
import type { Hash, Scene, SceneNode } from './types.ts';

export type PlainScene = Omit<Scene, 'nodes'> & { nodes: SceneNode[] };

export function plainScene({ nodes, ...beside }: Scene): PlainScene {
  return { ...beside, nodes: nodes.map(plainNode) };
}

/** Slow for large scenes: everything is written out. */
export function hashScene(scene: Scene): Hash {
  return hashData(plainScene(scene));
}
