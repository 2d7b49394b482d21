/** Texture coordinates as on a box, beside three.js' own normals of the same triangles. */
import { BufferAttribute, BufferGeometry } from 'three';
import { projected } from '@noble-prism/core/mesh/project';
import { ballMesh } from '@noble-prism/core/testing/meshes';
import { print, seconds } from './report.ts';

const mesh = ballMesh(1, 700);
const triangles = mesh.indices.length / 3;
const options = { projection: 'box', frame: [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0], from: 'z', turn: 0, offset: [0, 0], scale: 1 } as const; // prettier-ignore

const geometry = new BufferGeometry();
geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
geometry.setIndex(new BufferAttribute(mesh.indices, 1));
const bare = await seconds(3, () => geometry.computeVertexNormals());
const time = await seconds(5, () => projected(mesh, options));
print({
  name: `Box projection of ${(triangles / 1e6).toFixed(1)} M triangles`,
  value: triangles / time / 1e6,
  unit: 'Mtri/s',
  aim: { least: 5 },
  note: `${(time / bare).toFixed(2)} of three.js’ computeVertexNormals`,
});
