/** The mesh of a geometry. */
import type { BufferGeometry } from 'three';
import type { Mesh } from '@noble-prism/core/mesh/mesh';

export function meshOf(geometry: BufferGeometry): Mesh {
  const indices = Uint32Array.from(geometry.index!.array);
  return {
    positions: new Float32Array(geometry.getAttribute('position').array),
    normals: new Float32Array(geometry.getAttribute('normal').array),
    indices,
    groups: [{ slot: 0, start: 0, count: indices.length }],
    edges: new Float32Array(),
  };
}
