/** Parts of a scene in the order of the tree, with their meshes where they stand in their rows: what every writer goes through. */
import { unpackMesh } from '../mesh/mesh.ts';
import { placedMesh } from '../mesh/placed.ts';
import type { PlacedMesh } from '../mesh/placed.ts';
import { factsOf } from '../scene/facts.ts';
import { IDENTITY } from '../scene/matrix.ts';
import type { Scene, SceneNode } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';

/** Meshes one after the other: no more than one is open at a time. */
export async function* bodiesOf(scene: Scene, blobs: BlobStore): AsyncGenerator<{ node: SceneNode; mesh: PlacedMesh }> {
  for (const row of factsOf(scene).order) {
    const node = scene.nodes.row(row);
    if (node.mesh) yield { node, mesh: placedMesh(unpackMesh(await blobs.get(node.mesh)), node.offset ?? IDENTITY) };
  }
}

/** Triangles of all parts as they are placed. */
export function trianglesIn({ nodes, meshes }: Scene): number {
  let sum = 0;
  for (const { mesh } of nodes) if (mesh) sum += meshes[mesh].triangles;
  return sum;
}
