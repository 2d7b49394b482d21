/** Builds search trees for picking, away from the page. */
import { BufferAttribute, BufferGeometry } from 'three';
import { CENTER, MeshBVH } from 'three-mesh-bvh';

export interface TreeRequest {
  mesh: string;
  positions: Float32Array;
  indices: Uint32Array;
}

export interface TreeAnswer {
  mesh: string;
  roots: ArrayBuffer[];
  indirect: Uint32Array | Uint16Array;
}

self.onmessage = ({ data }: MessageEvent<TreeRequest>) => {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(data.positions, 3));
  geometry.setIndex(new BufferAttribute(data.indices, 1));
  // Indirect: the order of the triangles stays, because the groups of the mesh depend on it.
  const tree = MeshBVH.serialize(new MeshBVH(geometry, { strategy: CENTER, indirect: true }), { cloneBuffers: false });
  const answer: TreeAnswer = {
    mesh: data.mesh,
    roots: tree.roots as ArrayBuffer[],
    indirect: tree.indirectBuffer as Uint32Array,
  };
  self.postMessage(answer, [...answer.roots, answer.indirect.buffer as ArrayBuffer]);
};
