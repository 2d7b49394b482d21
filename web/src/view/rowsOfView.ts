/** What of a scene the view draws, and in which order. */
import { GONE } from '@noble-prism/core/scene/nodes';
import { Rows } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';
import { hasOptics } from './optics.ts';

/** Meshes of a scene, large ones first: they tell most of what the model is. */
export function largestFirst(model: Scene): string[] {
  const { mesh, kind } = model.nodes.columns;
  const words = new Set<number>();
  for (let row = 0; row < mesh.length; row++) if (mesh[row] > 0 && kind[row] !== GONE) words.add(mesh[row]);
  const meshes = [...words].map((word) => model.nodes.tables.words.get(word));
  const sizes = new Map(meshes.map((hash) => [hash, size(model, hash)]));
  return meshes.sort((a, b) => (sizes.get(b) ?? 0) - (sizes.get(a) ?? 0));
}

/** Cameras and lights of a scene. */
export function opticsOf({ nodes }: Scene): SceneNode[] {
  const { extras } = nodes.columns;
  const out: SceneNode[] = [];
  if (nodes.tables.extras.length > 1)
    for (let row = 0; row < extras.length; row++)
      if (extras[row] > 0 && nodes.has(row) && hasOptics(nodes.row(row))) out.push(nodes.row(row));
  return out;
}

/** Rows that are in one set and in the other. */
export function both(a: RowSet, { mask }: Rows): Rows {
  const out = new Uint8Array(mask.length);
  for (const row of a) out[row] = mask[row] ?? 0;
  return new Rows(out);
}

function size(model: Scene, mesh: string): number {
  const figures = model.meshes[mesh];
  return figures ? Math.hypot(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis])) : 0;
}
