/** Builds what picking and snapping look things up in, away from the page: search trees of triangles, and curves of feature edges. */
import { BufferAttribute, BufferGeometry } from 'three';
import { CENTER, MeshBVH } from 'three-mesh-bvh';
import { curvesOf } from '@noble-prism/core/measure/curves';
import type { Curve } from '@noble-prism/core/measure/curves';

export interface TreeRequest {
  mesh: string;
  positions: Float32Array;
  indices: Uint32Array;
}

/** Asks for the curves of the feature edges of a mesh. */
export interface CurvesRequest {
  mesh: string;
  edges: Float32Array;
}

export interface CurvesAnswer {
  mesh: string;
  curves: Curve[];
}

export interface TreeAnswer {
  mesh: string;
  roots: ArrayBuffer[];
  indirect: Uint32Array | Uint16Array;
}

self.onmessage = ({ data }: MessageEvent<TreeRequest | CurvesRequest>) => {
  if ('edges' in data) {
    const answer: CurvesAnswer = { mesh: data.mesh, curves: curvesOf(data.edges) };
    return self.postMessage(answer);
  }
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
