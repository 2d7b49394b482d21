// Counts of triangles against a second reader (assimp 5.2.5, Debian's assimp-utils) on the open files of Debian's
// assimp-testmodels. Where they differ, the reason stands beside the file.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import { modelOf, models, readAll, readOnce } from '../testing/reading.ts';
import { secondReading } from '../testing/secondReader.ts';

/** Differences that are known and meant: ours less theirs, and why. */
const EXPLAINED: Record<string, [difference: number, why: string]> = {
  'Collada/COLLADA.dae': [-1, 'a polygon with corners on one line has a triangle without area less'],
  'Collada/duck.dae': [-2, 'polygons with corners on one line have triangles without area less'],
  'Collada/duck.zae': [-2, 'the same'],
  'Collada/duck_nomanifest.zae': [-2, 'the same'],
  'Collada/cameras.dae': [-36, 'it draws bodies for nodes without geometry'],
  'Collada/lights.dae': [-60, 'it draws bodies for nodes without geometry'],
  'OBJ/spider.obj': [28, 'the same spider has 1 368 in STL, in text and binary, as it has here'],
  'OBJ/testline.obj': [-18, 'it counts lines as faces'],
  'OBJ/testmixed.obj': [-42, 'it counts lines and points as faces'],
  'glTF2/ClearCoat-glTF/ClearCoatTest.gltf': [
    -28_840,
    'its fifteen balls of 2 060 and nine signs of 4 are one each here',
  ],
  'glTF2/textureTransform/TextureTransformTest.gltf': [
    -14,
    'seven of its nine equal squares are one with another here',
  ],
  'X3D/HelloX3dTrademark.x3d': [
    -320,
    'how many sides a ball has is left to whoever draws it (ISO/IEC 19775-1, 13.3.7)',
  ],
  'X3D/ComputerKeyboard.x3d': [
    20,
    'swept outlines of 11, 4 and 4 sides: 22 and two ends of 9, twice 2 times 8 and two ends of 2 (ISO/IEC 19775-1, 13.3.5)',
  ],
  'OBJ/testpoints.obj': [-24, 'it counts points as faces'],
};

/** Files of which nothing is read here, on purpose. */
const REFUSED: Record<string, string> = {
  'glTF2/BoxTextured-glTF-techniqueWebGL/BoxTextured.gltf': 'it says that it cannot be read without its own shaders',
  'glTF2/IncorrectVertexArrays/Cube.gltf': 'its counts lie',
};

it.each(Object.entries(REFUSED))('%s is refused, as %s', async (path) => {
  await expect(readAll(modelOf(path))).rejects.toMatchObject({ code: 'not-readable' });
});

type Reading = NonNullable<ReturnType<typeof secondReading>>;

describe.each(['Collada', 'OBJ', 'STL', 'PLY', '3MF', 'glTF2', 'X3D'])('%s', (folder) => {
  const files = (readdirSync(join(models, folder), { recursive: true }) as string[])
    .filter((name) => /\.(dae|zae|obj|stl|ply|3mf|gltf|glb|x3d)$/i.test(name))
    // Lines and points, which the second reader counts as faces.
    .filter((name) => !/Mesh_PrimitiveMode_(0[0-37-9]|10)/.test(name))
    .filter((name) => !(`${folder}/${name}` in REFUSED))
    .map((name) => [`${folder}/${name}`, secondReading(`${folder}/${name}`)] as const)
    .flatMap(([path, theirs]) => (theirs ? [[path, theirs] as const] : []));

  it('has files that both can read', () => {
    expect(files.length).toBeGreaterThan(0);
  });

  const [some, others] = [0, 1].map((rest) => files.filter((_, i) => i % 2 === rest));
  const TRIANGLES = '%s has as many triangles';
  it.each(some)(TRIANGLES, hasTriangles);
  atLength.each(others)(TRIANGLES, hasTriangles);

  async function hasTriangles(path: string, { faces }: Reading): Promise<void> {
    const { scene } = await readOnce(path);
    const ours = Object.values(scene.meshes).reduce((sum, { triangles }) => sum + triangles, 0);
    expect(ours - faces).toBe(EXPLAINED[path]?.[0] ?? 0);
  }

  const NODES = '%s has as many nodes';
  if (folder === 'Collada') {
    it.each(some)(NODES, hasNodes);
    atLength.each(others)(NODES, hasNodes);
  }

  async function hasNodes(path: string, { nodes }: Reading): Promise<void> {
    const { scene } = await readOnce(path);
    expect(scene.nodes.length).toBe(nodes);
  }
});
