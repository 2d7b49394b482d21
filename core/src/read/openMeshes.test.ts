// Open mesh files (Debian, assimp-testmodels) against a second reader: the loaders of three.js. Where the two differ, the test says why.
import { Box3 } from 'three';
import type { BufferGeometry, Mesh, Object3D } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { describe, expect, it } from 'vitest';
import { exactBounds } from '../scene/exactBounds.ts';
import { modelOf, readAll } from '../testing/reading.ts';

interface Counts {
  meshes: number;
  triangles: number;
  size: number[];
}

function countsOf(root: Object3D): Counts {
  let meshes = 0;
  let triangles = 0;
  root.traverse((object) => {
    const { geometry } = object as Mesh;
    if (!geometry || !(object as Mesh).isMesh) return;
    meshes++;
    triangles += trianglesOf(geometry);
  });
  const box = new Box3().setFromObject(root, true);
  return { meshes, triangles, size: box.max.sub(box.min).toArray() };
}

const trianglesOf = (geometry: BufferGeometry) =>
  (geometry.index?.count ?? geometry.getAttribute('position').count) / 3;

function boxOf(geometry: BufferGeometry): number[] {
  geometry.computeBoundingBox();
  return geometry.boundingBox?.max.clone().sub(geometry.boundingBox.min).toArray() ?? [];
}

/** What we read, in the unit of the file. */
async function ours(name: string): Promise<Counts> {
  const { scene, blobs } = await readAll(modelOf(name));
  const parts = scene.nodes.filter((node) => node.mesh && scene.meshes[node.mesh].triangles > 0);
  const box = await exactBounds({ ...scene, nodes: scene.nodes }, blobs);
  return {
    meshes: parts.length,
    triangles: parts.reduce((sum, node) => sum + scene.meshes[node.mesh ?? ''].triangles, 0),
    size: box?.max.map((high, axis) => (high - box.min[axis]) / scene.sources[0].unit.metres) ?? [],
  };
}

const bufferOf = (name: string) => {
  const { bytes } = modelOf(name);
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;
};
const close = (size: number[]) => size.map((side) => expect.closeTo(side, 3) as number);

describe('the same counts and sizes as a second reader', () => {
  it.each(['Spider_ascii.stl', 'Spider_binary.stl', 'Wuson.stl', 'sphereWithHole.stl', 'triangle_with_two_solids.stl'])(
    'STL: %s',
    async (name) => {
      const geometry = new STLLoader().parse(bufferOf(`STL/${name}`));
      const { triangles, size } = await ours(`STL/${name}`);
      expect(triangles).toBe(trianglesOf(geometry));
      expect(size).toEqual(close(boxOf(geometry)));
    },
  );

  it.each(['Wuson.ply', 'cube.ply', 'cube_binary.ply', 'cube_uv.ply', 'float-color.ply'])('PLY: %s', async (name) => {
    const geometry = new PLYLoader().parse(bufferOf(`PLY/${name}`));
    const { triangles, size } = await ours(`PLY/${name}`);
    expect(triangles).toBe(trianglesOf(geometry));
    expect(size).toEqual(close(boxOf(geometry)));
  });

  it.each([
    'WusonOBJ.obj',
    'box.obj',
    'box_without_lineending.obj',
    'cube_usemtl.obj',
    'cube_with_vertexcolors.obj',
    'empty_mat.obj',
    'regr01.obj',
    'spider.obj',
    'space_in_material_name.obj',
    'multiple_spaces.obj',
  ])('OBJ: %s', async (name) => {
    const second = countsOf(new OBJLoader().parse(new TextDecoder().decode(modelOf(`OBJ/${name}`).bytes)));
    const { triangles, size } = await ours(`OBJ/${name}`);
    expect(triangles).toBe(second.triangles);
    expect(size).toEqual(close(second.size));
  });

  it('OBJ: reads what the second reader loses, faces beside points', async () => {
    const { triangles } = await ours('OBJ/testmixed.obj');
    expect(triangles).toBe(12);
    expect(
      countsOf(new OBJLoader().parse(new TextDecoder().decode(modelOf('OBJ/testmixed.obj').bytes))).triangles,
    ).toBeLessThan(12);
  });

  it('OBJ: reads UTF-16 as the same box as UTF-8', async () => {
    expect(await ours('OBJ/box_UTF16BE.obj')).toEqual(await ours('OBJ/box.obj'));
  });

  it.each(['2CylinderEngine-glTF-Binary/2CylinderEngine.glb', 'BoxBadNormals-glTF-Binary/BoxBadNormals.glb'])(
    'glTF: %s',
    async (name) => {
      const loader = new GLTFLoader();
      const path = `glTF2/${name}`;
      const content = name.endsWith('.glb') ? bufferOf(path) : new TextDecoder().decode(modelOf(path).bytes);
      const { scene } = await loader.parseAsync(content, '');
      const second = countsOf(scene);
      const first = await ours(path);
      expect(first.triangles).toBe(second.triangles);
      expect(first.size).toEqual(close(second.size));
    },
  );
});
