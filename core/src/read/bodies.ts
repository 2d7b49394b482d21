/** Bodies that a format gives by a formula, as the meshes that three.js makes of them. */
import type { BufferGeometry } from 'three';
import type { BareMesh } from '../mesh/normals.ts';

export function bodyOf(geometry: BufferGeometry): BareMesh {
  const array = (name: string) => geometry.getAttribute(name).array as Float32Array;
  const indices = Uint32Array.from(geometry.getIndex()?.array ?? []);
  // The origin of the picture is lower left there, upper left in the scene.
  const uvs = [array('uv').map((value, i) => (i % 2 ? 1 - value : value))];
  return {
    positions: array('position'),
    normals: array('normal'),
    uvs,
    indices,
    groups: [{ slot: 0, start: 0, count: indices.length }],
  };
}
