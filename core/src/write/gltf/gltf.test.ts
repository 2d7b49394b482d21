// Our files against two readers that are not ours: the Khronos validator, and three.js's GLTFLoader.
import { describe, expect, it } from 'vitest';
import { applyStep } from '../../steps/kind.ts';
import { WebIO } from '@gltf-transform/core';
import type { Accessor } from '@gltf-transform/core';
import { inspect } from '@gltf-transform/functions';
import { validateBytes } from 'gltf-validator';
import { Box3, Group } from 'three';
import type { Mesh, MeshPhysicalMaterial, MeshStandardMaterial, Object3D } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { libraryMaterial } from '../../finish/library/library.ts';
import { translation } from '../../scene/matrix.ts';
import { takeOff } from '../../scene/facts.ts';
import { worldBox } from '../../scene/tree.ts';
import { pivotStep } from '../../steps/pivot.ts';
import { readBackGlb } from '../../testing/readBack.ts';
import { safeFileName } from '../../transmit/fileNames.ts';
import { sentTo } from '../../testing/sent.ts';
import type { Mesh as CoreMesh } from '../../mesh/mesh.ts';
import { ballMesh, boxMesh, moved } from '../../testing/meshes.ts';
import { randomNumbers } from '../../testing/random.ts';
import { sceneWith } from '../../testing/scenes.ts';
import type { PartSpec } from '../../testing/scenes.ts';
import { glbBytes } from '../../testing/glbBytes.ts';
import { SceneEditor } from '../../scene/editor.ts';
import type { Scene } from '../../scene/types.ts';
import { factsOf } from '../../scene/facts.ts';

/** The scene without one of its rows. */
function without(scene: Scene, key: string): Scene {
  const edit = new SceneEditor(scene);
  edit.remove(factsOf(scene).rowOf(key)!);
  return edit.finish().scene;
}

const TILTED = [0.6, 0.8, 0, 0, -0.8, 0.6, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1];

async function demo() {
  const { scene, blobs } = await sceneWith([
    {
      name: 'Unit “A” / Ø80',
      transform: TILTED,
      children: [
        {
          name: 'Bolt',
          mesh: ballMesh(0.02, 8),
          transform: translation([1, 0, 0]),
          layer: 'FASTENERS',
          materials: ['lib:stainless'],
        },
        { name: 'Bolt', mesh: ballMesh(0.02, 8), transform: translation([2, 0, 0]), materials: ['lib:glass'] },
        { name: 'Case', mesh: moved(boxMesh(1, 2, 3, 2), 0.5, 0, 0), materials: ['lib:cast-iron', 'lib:rubber'] },
        { name: 'Empty', children: [] },
      ],
    },
  ]);
  for (const id of Object.keys(scene.materials)) scene.materials[id] = libraryMaterial(id) ?? scene.materials[id];
  const { scene: pivoted } = applyStep(
    pivotStep,
    scene,
    new Set([3]),
    { place: 'base-centre', of: 'parts' },
    () => undefined,
  );
  return { scene: pivoted, blobs };
}

function load(bytes: Uint8Array): Promise<Group> {
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
  return new Promise((resolve, reject) => new GLTFLoader().parse(buffer, '', ({ scene }) => resolve(scene), reject));
}

describe('binary glTF', () => {
  it('has no error and no warning by the Khronos validator', async () => {
    const { scene, blobs } = await demo();
    const { issues } = await validateBytes(await glbBytes(scene, blobs, 'demo'));
    expect(issues.messages).toEqual([]);
  });

  it('is read by another reader with the same parts, hierarchy, triangles and sizes', async () => {
    const { scene, blobs } = await demo();
    const group = await load(await glbBytes(scene, blobs, 'demo'));
    const root = group.children[0];
    expect(root.userData.name ?? root.name).toContain('Unit');
    expect(root.children.map((child) => child.userData.key)).toEqual([...scene.nodes].slice(1).map((node) => node.key));
    let triangles = 0;
    group.traverse((object: Object3D) => {
      const { geometry } = object as Mesh;
      if (geometry) triangles += (geometry.index?.count ?? 0) / 3;
    });
    expect(triangles).toBe(takeOff(scene).triangles);
    const box = new Box3().setFromObject(group, true);
    const { unpackMesh } = await import('../../mesh/mesh.ts');
    const positions = new Map<string, Float32Array>();
    for (const hash of Object.keys(scene.meshes)) positions.set(hash, unpackMesh(await blobs.get(hash)).positions);
    const expected = worldBox(scene, undefined, (mesh) => positions.get(mesh));
    box.min.toArray().forEach((value, axis) => expect(value).toBeCloseTo(expected?.min[axis] as number, 5));
    box.max.toArray().forEach((value, axis) => expect(value).toBeCloseTo(expected?.max[axis] as number, 5));
  });

  it('is inspected to the figures of the take-off, whatever the tree', async () => {
    for (let seed = 1; seed <= 5; seed++) {
      const random = randomNumbers(seed);
      const pick = (count: number) => Math.floor(random() * count);
      const shapes = [boxMesh(1, 1, 1), boxMesh(1, 2, 3, 2), ballMesh(0.5, 6), ballMesh(0.5, 12)];
      const colours = ['#112233', '#445566', '#778899'];
      const branch = (depth: number): PartSpec =>
        depth > 0 && random() < 0.6
          ? { name: 'Group', children: Array.from({ length: 1 + pick(4) }, () => branch(depth - 1)) }
          : { name: 'Part', mesh: shapes[pick(4)], materials: [colours[pick(3)], colours[pick(3)]] };
      const { scene, blobs } = await sceneWith(Array.from({ length: 6 }, () => branch(4)));
      const document = await new WebIO().readBinary(await glbBytes(scene, blobs, 'random'));
      const { meshes, materials } = inspect(document);
      const figures = takeOff(scene);
      const drawn = meshes.properties.reduce((sum, { glPrimitives, instances }) => sum + glPrimitives * instances, 0);
      expect(drawn).toBe(figures.triangles);
      expect(materials.properties.filter(({ instances }) => instances > 0)).toHaveLength(figures.materials);
      const calls = new Set<string>();
      for (const mesh of document.getRoot().listMeshes())
        for (const primitive of mesh.listPrimitives()) {
          const accessors = document.getRoot().listAccessors();
          const points = accessors.indexOf(primitive.getIndices() as Accessor);
          calls.add(`${points} ${primitive.getMaterial()?.getName()}`);
        }
      expect(calls.size).toBe(figures.drawCalls);
    }
  });

  it('stores shared geometry once, with a material for each placement', async () => {
    const { scene, blobs } = await demo();
    const group = await load(await glbBytes(scene, blobs, 'demo'));
    const [a, b] = group.children[0].children as Mesh[];
    expect(a.geometry.getAttribute('position').array.buffer).toBe(b.geometry.getAttribute('position').array.buffer);
    expect((a.material as MeshStandardMaterial).name).toBe('Stainless steel, brushed');
    expect((b.material as MeshPhysicalMaterial).transmission).toBeCloseTo(0.94, 6);
    const one = await glbBytes(without(scene, '/Unit “A” / Ø80/Bolt#2'), blobs, 'x');
    const both = await glbBytes(scene, blobs, 'x');
    expect(both.length - one.length).toBeLessThan(1500);
  });

  it('puts the pivot of a part at the origin of its node', async () => {
    const { scene, blobs } = await demo();
    const group = await load(await glbBytes(scene, blobs, 'demo'));
    group.updateMatrixWorld(true);
    const part = group.children[0].children[2];
    const box = new Box3();
    part.traverse((object) => {
      const { geometry } = object as Mesh;
      geometry?.computeBoundingBox();
      if (geometry?.boundingBox) box.union(geometry.boundingBox);
    });
    // Source z up: the base is lowest in z; x and y run evenly to both sides.
    expect(box.min.toArray().map((v) => Number(v.toFixed(5)))).toEqual([-0.5, -1, 0]);
    expect(box.max.toArray().map((v) => Number(v.toFixed(5)))).toEqual([0.5, 1, 3]);
  });
});

describe('places in the file', () => {
  it('are kept to the last digit, however small they are', async () => {
    const { scene, blobs } = await sceneWith([
      {
        name: 'Chip',
        mesh: boxMesh(1e-4, 1e-4, 1e-4),
        transform: translation([4e-6, -2e-6, 0]),
        materials: ['lib:rubber'],
      },
    ]);
    const group = await load(await glbBytes(scene, blobs, 'x'));
    expect(group.children[0].position.toArray()).toEqual([4e-6, -2e-6, 0]);
  });
});

describe('the read-back', () => {
  it('holds for what was written', async () => {
    const { scene, blobs } = await demo();
    const result = await readBackGlb(await glbBytes(scene, blobs, 'demo'), scene, blobs);
    expect(result.checks.filter((check) => !check.holds)).toEqual([]);
    expect(result).toMatchObject({ holds: true, differences: [] });
  });

  it.each([
    ['a name', (edit: SceneEditor) => edit.rename(1, 'Nut'), /Bolt/],
    ['a material', (edit: SceneEditor) => edit.setMaterials(1, ['lib:glass']), /material/],
    ['a place', (edit: SceneEditor) => edit.setTransform(1, translation([1.001, 0, 0])), /place differs/],
    ['a parent', (edit: SceneEditor) => edit.setParent(1, null), /missing/],
    ['a part', (edit: SceneEditor) => edit.remove(2), /missing/],
  ])('finds %s that differs', async (_, spoil, words) => {
    const { scene, blobs } = await demo();
    const edit = new SceneEditor(scene);
    spoil(edit);
    const other = edit.finish().scene;
    const result = await readBackGlb(await glbBytes(other, blobs, 'demo'), scene, blobs);
    expect(result.holds).toBe(false);
    expect(result.differences.join()).toMatch(words);
  });
});

describe('the read-back of materials', () => {
  it.each([
    ['baseColor', [0.5, 0.1, 0.1], /base colour/],
    ['opacity', 0.25, /opacity|see-through/],
    ['metallic', 0.123, /metalness 0.123 became/],
    ['roughness', 0.321, /roughness 0.321 became/],
    ['emissive', [3, 0, 0], /emission 3 0 0 became 0 0 0/],
    ['cutoff', 0.4, /cut-off 0.4 became none/],
    ['doubleSided', true, /seen from behind yes became no/],
    ['unlit', true, /shown without light yes became no/],
  ])('finds a %s that differs', async (key, value, words) => {
    const { scene, blobs } = await demo();
    const materials = structuredClone(scene.materials);
    Object.assign(materials['lib:stainless'], { [key]: value });
    const other = { ...scene, materials };
    const result = await readBackGlb(await glbBytes(scene, blobs, 'x'), other, blobs);
    expect(result.holds).toBe(false);
    expect(result.differences.join()).toMatch(words);
    expect((await readBackGlb(await glbBytes(other, blobs, 'x'), other, blobs)).differences).toEqual([]);
  });
});

describe('the read-back of geometry', () => {
  const withUvs = (mesh: CoreMesh): CoreMesh => ({
    ...mesh,
    uvs: [new Float32Array((mesh.positions.length / 3) * 2).map((_, i) => (i % 7) / 7)],
    colours: new Float32Array((mesh.positions.length / 3) * 4).fill(0.5),
  });
  const changed = (values: Float32Array, by: number) => values.map((value, i) => (i === 5 ? value + by : value));
  it.each<[string, (mesh: CoreMesh) => CoreMesh, RegExp]>([
    ['a corner a thousandth of a millimetre', (m) => ({ ...m, positions: changed(m.positions, 1e-6) }), /elsewhere/],
    ['a normal', (m) => ({ ...m, normals: changed(m.normals, 0.001) }), /normals differ/],
    ['a texture coordinate', (m) => ({ ...m, uvs: [changed(m.uvs![0], 0.001)] }), /texture coordinates/],
    ['a colour', (m) => ({ ...m, colours: changed(m.colours!, 0.01) }), /colours differ/],
    ['all texture coordinates', ({ uvs: _, ...m }) => m, /UV set 1 became nothing/],
    [
      'a triangle',
      (m) => ({ ...m, indices: m.indices.slice(3), groups: [{ slot: 0, start: 0, count: 33 }] }),
      /12 triangles became 11/,
    ],
  ])('finds %s that is off', async (_, spoil, words) => {
    const cube = withUvs(boxMesh(0.2, 0.2, 0.2));
    const sent = await sceneWith([{ name: 'Cube', mesh: cube, materials: ['lib:rubber'] }]);
    const written = await sceneWith([{ name: 'Cube', mesh: spoil(cube), materials: ['lib:rubber'] }]);
    const file = await glbBytes(written.scene, written.blobs, 'x');
    const result = await readBackGlb(file, sent.scene, sent.blobs);
    expect(result.holds).toBe(false);
    expect(result.differences.join()).toMatch(words);
    const own = await readBackGlb(await glbBytes(sent.scene, sent.blobs, 'x'), sent.scene, sent.blobs);
    expect(own).toMatchObject({ holds: true, differences: [] });
    expect(own.checks.map(({ what }) => what)).toEqual(
      expect.arrayContaining(['Positions, corner by corner', 'Normals, corner by corner', 'UVs and colours']),
    );
  });

  it('of a file that nothing can open says so', async () => {
    const { scene, blobs } = await demo();
    const result = await readBackGlb(new Uint8Array([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]), scene, blobs);
    expect(result).toMatchObject({ holds: false, checks: [{ what: 'Opened by another reader', found: 'no' }] });
  });
});

describe('a delivery', () => {
  it('has a manifest that says what is in it, and a file name that stays in its folder', async () => {
    const { scene, blobs } = await demo();
    const { output, manifest } = await sentTo(scene, blobs, {}, { name: '../Tarn Gondola: Ä/1' });
    expect(output.files.map(({ name }) => name)).toEqual(['Tarn-Gondola-A-1.glb']);
    expect(manifest).toMatchObject({
      scene: { parts: 3, meshes: 2, materials: 4 },
      outputs: [{ unit: 'm', upAxis: 'y', parts: 3, readBack: { holds: true } }],
    });
    expect(manifest.parts.map((part) => part.path)).toEqual([
      'Unit “A” / Ø80 › Bolt',
      'Unit “A” / Ø80 › Bolt',
      'Unit “A” / Ø80 › Case',
    ]);
    expect(manifest.outputs[0].files[0].sha256).toMatch(/^[0-9a-f]{64}$/);
  });

  it('is refused where there is nothing to send', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'P' }]);
    await expect(sentTo(scene, blobs)).rejects.toThrow('no geometry');
    await expect(sentTo(scene, blobs, { format: 'zzz' })).rejects.toThrow('no format “zzz”');
  });

  it.each([
    ['', 'scene'],
    ['...', 'scene'],
    ['a/../../b', 'a-..-..-b'],
    ['Größe 3', 'Große-3'.replace('ß', '-')],
    ['x'.repeat(500), 'x'.repeat(80)],
  ])('makes a safe name of %j', (given, safe) => {
    const made = safeFileName(given);
    expect(made).not.toMatch(/[/\\]|^\./);
    if (!given.includes('ö')) expect(made).toBe(safe);
  });
});
