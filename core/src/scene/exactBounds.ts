/** The box of a scene from its vertices, where boxes of boxes would be too large. */
import { unpackMesh } from '../mesh/mesh.ts';
import type { BlobStore } from '../surroundings.ts';
import { worldBox } from './tree.ts';
import type { Box, Scene } from './types.ts';

/** World box from the vertices themselves, metres. */
export async function exactBounds(scene: Scene, blobs: BlobStore): Promise<Box | undefined> {
  const positions = new Map<string, Float32Array>();
  for (const node of scene.nodes) {
    if (node.mesh && !positions.has(node.mesh))
      positions.set(node.mesh, unpackMesh(await blobs.get(node.mesh)).positions);
  }
  return worldBox(scene, undefined, (mesh) => positions.get(mesh));
}
