/** Scenes of many placements of some knots. */
import { TorusKnotGeometry } from 'three';
import { MemoryBlobs } from '@noble-prism/core/memoryStores';
import { figuresOf, packMesh } from '@noble-prism/core/mesh/mesh';
import { NodeWriter } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE, NO_MATERIAL } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import type { BlobStore } from '@noble-prism/core/surroundings';
import { meshOf } from './meshOf.ts';

const knot = (i: number, segments: number) =>
  meshOf(new TorusKnotGeometry(1, 0.3, segments, 12, 2 + (i % 3), 3 + (i % 5)));

/** @param distinct shapes, placed in turn */
export async function placed(count: number, distinct: number, segments: number, blobs: BlobStore = new MemoryBlobs()): Promise<{ scene: Scene; blobs: BlobStore }> {
  const meshes: Scene['meshes'] = {};
  const hashes: string[] = [];
  for (let i = 0; i < distinct; i++) {
    const mesh = knot(i, segments + i);
    const blob = packMesh(mesh);
    const hash = await blobs.put(blob);
    meshes[hash] = figuresOf(mesh, blob.length);
    hashes.push(hash);
  }
  const rows = new NodeWriter('s');
  for (let i = 0; i < count; i++)
    rows.add({ parent: null, name: `Part ${i + 1}`, kind: 'part', transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, (i % 40) * 3, Math.floor(i / 1600) * 3, (Math.floor(i / 40) % 40) * 3, 1], mesh: hashes[i % distinct], materials: ['none'], layer: null }); // prettier-ignore
  return { scene: { ...EMPTY_SCENE, nodes: rows.table(), meshes, materials: { none: NO_MATERIAL } }, blobs };
} // prettier-ignore
