// 3MF against the library of its consortium: files that it writes are read as it was told to write them, and an open file is read by
// both alike.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import load from '@3mfconsortium/lib3mf';
import { beforeAll, describe, expect, it } from 'vitest';
import { linearFromSrgb } from '../finish/colour.ts';
import { worldTransforms } from '../scene/tree.ts';
import { fileOf, modelOf, models, readAll } from '../testing/reading.ts';

type Library = Awaited<ReturnType<typeof load>>;
let library: Library;
beforeAll(async () => {
  library = await load();
});

const UNITS = [
  ['MicroMeter', 1e-6],
  ['MilliMeter', 0.001],
  ['CentiMeter', 0.01],
  ['Inch', 0.0254],
  ['Foot', 0.3048],
  ['Meter', 1],
] as const;

const filled = <T extends Record<string, (value?: number) => number>>(
  structure: T,
  name: string,
  values: number[],
): T => {
  values.forEach((value, i) => structure[`set_${name}${i}`](value));
  return structure;
};

/** Rows of a transform as the library has them: three of the linear part, one of the move. */
function transform(rows: number[][]) {
  const made = new library.sTransform();
  rows.forEach((row, r) => row.forEach((value, c) => made[`set_Fields_${r}_${c}`](value)));
  return made;
}

const FACES = [
  [0, 2, 1],
  [0, 1, 3],
  [1, 2, 3],
  [2, 0, 3],
];

function tetrahedron(model: ReturnType<InstanceType<Library['CWrapper']>['CreateModel']>, name: string) {
  const mesh = model.AddMeshObject();
  mesh.SetName(name);
  for (const corner of [[0, 0, 0], [2, 0, 0], [0, 3, 0], [0, 0, 5]])
    mesh.AddVertex(filled(new library.sPosition(), 'Coordinates', corner));
  for (const face of FACES) mesh.AddTriangle(filled(new library.sTriangle(), 'Indices', face));
  return mesh;
} // prettier-ignore

function written(model: ReturnType<InstanceType<Library['CWrapper']>['CreateModel']>): Uint8Array {
  model.QueryWriter('3mf').WriteToFile('/out.3mf');
  return library.FS.readFile('/out.3mf');
}

describe('a file that the consortium’s library wrote', () => {
  it.each(UNITS)('in %s has the size that it was given', async (unit, metres) => {
    const wrapper = new library.CWrapper();
    const model = wrapper.CreateModel();
    model.SetUnit(library.eModelUnit[unit]);
    model.AddBuildItem(tetrahedron(model, 'Wedge'), wrapper.GetIdentityTransform());
    const { scene } = await readAll(fileOf('a.3mf', written(model)));
    const [figures] = Object.values(scene.meshes);
    expect(figures.triangles).toBe(4);
    [2, 3, 5].forEach((side, axis) => expect(figures.bounds.max[axis] / metres).toBeCloseTo(side, 5));
    // A sixth of the box around it.
    expect(figures.volume / metres ** 3).toBeCloseTo(5, 4);
  });

  it('keeps names, components and their places, and one mesh for all', async () => {
    const wrapper = new library.CWrapper();
    const model = wrapper.CreateModel();
    model.SetUnit(library.eModelUnit.Meter);
    const pin = tetrahedron(model, 'Pin');
    const pair = model.AddComponentsObject();
    pair.SetName('Pair');
    pair.AddComponent(pin, wrapper.GetIdentityTransform());
    // A quarter about z, then ten along x: rows are where x, y and z go.
    pair.AddComponent(pin, transform([[0, 1, 0], [-1, 0, 0], [0, 0, 1], [10, 0, 0]])); // prettier-ignore
    model.AddBuildItem(pair, transform([[1, 0, 0], [0, 1, 0], [0, 0, 1], [0, 0, 100]])); // prettier-ignore
    const { scene } = await readAll(fileOf('a.3mf', written(model)));
    expect(scene.nodes.map(({ name, parent }) => [name, parent])).toEqual([
      ['Pair', null],
      ['Pin', 0],
      ['Pin', 0],
    ]);
    expect(Object.keys(scene.meshes)).toHaveLength(1);
    const world = worldTransforms(scene).get(2) ?? [];
    expect(world.map((value) => Math.round(value * 1e9) / 1e9 + 0)).toEqual([
      0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 10, 0, 100, 1,
    ]);
  });

  it('keeps base materials for each triangle', async () => {
    const wrapper = new library.CWrapper();
    const model = wrapper.CreateModel();
    const mesh = tetrahedron(model, 'Wedge');
    const group = model.AddBaseMaterialGroup();
    const red = group.AddMaterial('Red paint', wrapper.RGBAToColor(200, 30, 20, 255));
    const glass = group.AddMaterial('Glass', wrapper.RGBAToColor(10, 20, 30, 128));
    mesh.SetObjectLevelProperty(group.GetResourceID(), red);
    FACES.forEach((_, i) => {
      const properties = new library.sTriangleProperties();
      properties.set_ResourceID(group.GetResourceID());
      mesh.SetTriangleProperties(i, filled(properties, 'PropertyIDs', Array<number>(3).fill(i === 3 ? glass : red)));
    });
    model.AddBuildItem(mesh, wrapper.GetIdentityTransform());
    const { scene, node } = await readAll(fileOf('a.3mf', written(model)));
    const materials = node('Wedge').materials.map((id) => scene.materials[id]);
    const [figures] = Object.values(scene.meshes);
    const byName = Object.fromEntries(materials.map(({ name }, slot) => [name, figures.slots[slot]]));
    expect(byName).toMatchObject({ 'Red paint': 3, Glass: 1 });
    const paint = materials.find(({ name }) => name === 'Red paint');
    paint?.baseColor.forEach((value, i) => expect(value).toBeCloseTo(linearFromSrgb([200, 30, 20][i] / 255), 6));
    expect(materials.find(({ name }) => name === 'Glass')?.opacity).toBeCloseTo(128 / 255, 6);
  });
});

describe('an open file', () => {
  it('has as many vertices, triangles and items for both, without a warning in strict mode', async () => {
    const model = new library.CWrapper().CreateModel();
    library.FS.writeFile('/box.3mf', new Uint8Array(readFileSync(join(models, '3MF/box.3mf'))));
    const reader = model.QueryReader('3mf');
    reader.SetStrictModeActive(true);
    reader.ReadFromFile('/box.3mf');
    expect(reader.GetWarningCount()).toBe(0);
    const meshes = model.GetMeshObjects();
    const counts: number[][] = [];
    while (meshes.MoveNext()) {
      const mesh = meshes.GetCurrentMeshObject();
      counts.push([mesh.GetVertexCount(), mesh.GetTriangleCount()]);
    }
    const items = model.GetBuildItems();
    let placed = 0;
    while (items.MoveNext()) placed++;
    const { scene, survey, blobs } = await readAll(modelOf('3MF/box.3mf'));
    expect(counts.map(([, triangles]) => triangles)).toEqual(
      Object.values(scene.meshes).map(({ triangles }) => triangles),
    );
    expect(scene.nodes.filter((node) => node.mesh)).toHaveLength(placed);
    expect(survey.sources[0].holds?.geometries).toBe(counts.length);
    // Corners that differ in their normals stand apart here: their places are as many as the vertices there.
    const { unpackMesh } = await import('../mesh/mesh.ts');
    const { positions } = unpackMesh(await blobs.get(Object.keys(scene.meshes)[0]));
    const places = new Set(
      Array.from({ length: positions.length / 3 }, (_, i) => positions.slice(i * 3, i * 3 + 3).join()),
    );
    expect(places.size).toBe(counts[0][0]);
  });
});
