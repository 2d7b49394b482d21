// Our files of USD against two readers that are not ours (a C++ library, and that of three.js), and against what they were made from.
import { unzipSync } from 'fflate';
import { Quaternion } from 'three';
import type { BufferGeometry, Group, Mesh, MeshStandardMaterial } from 'three';
import { USDLoader } from 'three/addons/loaders/USDLoader.js';
import { describe, expect, it } from 'vitest';
import { libraryMaterial } from '../../finish/library/library.ts';
import type { MemoryBlobs } from '../../memoryStores.ts';
import { factsOf } from '../../scene/facts.ts';
import { composed, translation } from '../../scene/matrix.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { keysOf, placeAt } from '../../scene/motion.ts';
import type { Scene } from '../../scene/types.ts';
import { atLength } from '../../testing/atLength.ts';
import { ballMesh, boxMesh } from '../../testing/meshes.ts';
import { randomNumbers } from '../../testing/random.ts';
import { farthestBetween } from '../../testing/trees.ts';
import { fileOf, readAll, readOnce } from '../../testing/reading.ts';
import { sceneWith } from '../../testing/scenes.ts';
import type { PartSpec } from '../../testing/scenes.ts';
import { meshesOfSecondReader } from '../../testing/secondUsd.ts';
import { readBack } from '../../transmit/readback.ts';
import { writerFor } from '../formats.ts';
import { crc32 } from '../zip.ts';
import { PrimNames, quoted } from './text.ts';
import { writeUsd } from './layer.ts';
import { usdaWriter, usdzWriter } from './usd.ts';

const textOf = async (scene: Scene, blobs: MemoryBlobs) =>
  new TextDecoder().decode((await writeUsd(scene, blobs, 'hall', { title: 'Hall 3' }))[0].bytes);

async function comparedBy(target: 'usda' | 'usdz', scene: Scene, blobs: MemoryBlobs) {
  const writer = writerFor(target)!;
  return readBack(writer, await writer.write(scene, blobs, 'hall'), scene, blobs);
}

describe('open files, written as USD', () => {
  const WHOLE = '%s has everything in the text and in the package';
  atLength.each([['house.ifc'], ['glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb']])(WHOLE, isWhole);
  it.each([
    ['glTF2/BoxTextured-glTF/BoxTextured.gltf'],
    ['glTF2/textureTransform/TextureTransformTest.gltf'],
    ['glTF2/ClearCoat-glTF/ClearCoatTest.gltf'],
    ['glTF2/cameras/Cameras.gltf'],
    ['glTF2/glTF-Asset-Generator/Mesh_PrimitiveMode/Mesh_PrimitiveMode_07.gltf'],
    ['Collada/kwxport_test_vcolors.dae'],
    ['Collada/lights.dae'],
    ['PLY/points.ply'],
  ])(WHOLE, isWhole);

  async function isWhole(path: string): Promise<void> {
    const { scene, blobs } = await readOnce(path);
    for (const target of ['usda', 'usdz'] as const) {
      const { holds, differences } = await comparedBy(target, scene, blobs);
      expect(differences).toEqual([]);
      expect(holds).toBe(true);
    }
  }

  const SAME = '%s has the same meshes for the second reader, triangle by triangle';
  it.each(['Collada/kwxport_test_vcolors.dae'])(SAME, hasSameMeshes);
  atLength.each(['glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb'])(SAME, hasSameMeshes);

  async function hasSameMeshes(path: string): Promise<void> {
    const { scene, blobs } = await readOnce(path);
    for (const writer of [usdaWriter, usdzWriter]) {
      const [file] = await writer.write(scene, blobs, 'engine');
      const theirs = await meshesOfSecondReader(file.bytes, file.name);
      const sizes = theirs.map(({ points, faceVertexIndices }) => `${points.length / 3} ${faceVertexIndices.length / 3}`);
      const used = new Set([...scene.nodes].flatMap(({ mesh }) => mesh ?? []));
      const ours = [...used].map((hash) => `${scene.meshes[hash].vertices} ${scene.meshes[hash].triangles}`);
      expect([...new Set(sizes)].sort()).toEqual([...new Set(ours)].sort());
    }
  } // prettier-ignore
});

it('three.js finds every part in its place, with its triangles and its colour', async () => {
  const random = randomNumbers(4);
  const somewhere = () => composed([random(), random(), random()], new Quaternion().random().toArray(), [1, 1, 1]);
  const part = (n: number): PartSpec => ({
    ...{ name: `P${n}`, mesh: boxMesh(1, 1 + n / 10, 1), materials: [['lib:glass', 'lib:copper'][n % 2]] },
    ...{ transform: somewhere() },
  });
  const { scene, blobs } = await sceneWith([
    { name: 'A', transform: somewhere(), children: [part(0), { name: 'B', transform: somewhere(), children: [part(1), part(2)] }] },
    part(3),
  ]); // prettier-ignore
  for (const id of Object.keys(scene.materials)) scene.materials[id] = libraryMaterial(id) ?? scene.materials[id];
  const group = new USDLoader().parse(await textOf(scene, blobs)) as Group;
  group.updateMatrixWorld(true);
  for (const { id, name, mesh, materials } of scene.nodes) {
    const theirs = group.getObjectByName(name)!;
    expect(farthestBetween(theirs.matrixWorld.toArray(), factsOf(scene).world(id))).toBeLessThan(1e-9);
    if (!mesh) continue;
    const { geometry, material } = theirs as Mesh<BufferGeometry, MeshStandardMaterial>;
    expect(geometry.getIndex()?.count ?? geometry.getAttribute('position').count).toBe(scene.meshes[mesh].triangles * 3);
    const { baseColor, metallic, roughness } = scene.materials[materials[0]];
    material.color.toArray().forEach((value, i) => expect(value).toBeCloseTo(baseColor[i], 5));
    expect([material.metalness, material.roughness]).toEqual([metallic, roughness]);
  }
}); // prettier-ignore

const bolts: PartSpec[] = [
  { name: 'Bolt', mesh: ballMesh(0.02, 8), transform: translation([1, 0, 0]), materials: ['lib:steel'], layer: 'FASTENERS' },
  { name: 'Bolt', mesh: ballMesh(0.02, 8), transform: translation([2, 0, 0]), materials: ['lib:glass'] },
  { name: 'Bolt', mesh: ballMesh(0.02, 8), transform: translation([3, 0, 0]), materials: ['lib:glass'] },
]; // prettier-ignore

describe('instances', () => {
  it('of one material each share one prototype, whatever the material', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Set', children: bolts }]);
    const text = await textOf(scene, blobs);
    expect(text.match(/def Mesh /g)).toHaveLength(1);
    expect(text.match(/instanceable = true/g)).toHaveLength(3);
    expect((await comparedBy('usda', scene, blobs)).differences).toEqual([]);
    // What comes back has no group around each of them.
    const back = await readAll(fileOf('hall.usda', text));
    expect([...back.scene.nodes].map(({ name, kind }) => `${name} ${kind}`)).toEqual(['Hall 3 assembly', 'Set assembly', ...Array<string>(3).fill('Bolt part')]);
  }); // prettier-ignore

  it('with materials for their slots have them below the prototype, where alone they are seen', async () => {
    const cases = ['lib:a', 'lib:b', 'lib:a'].map((own, i): PartSpec => ({
      ...{ name: 'Case', mesh: boxMesh(1, 2, 3, 2), transform: translation([i * 4, 0, 0]), materials: [own, 'lib:c'] },
    }));
    const { scene, blobs } = await sceneWith([{ name: 'Row', children: cases }]);
    const text = await textOf(scene, blobs);
    expect(text.match(/point3f\[\] points/g)).toHaveLength(1);
    // A target outside of what is referred to is none (UsdPrim references): each binding stays below its prototype.
    const bindings = [...text.matchAll(/over "Slot\d"[^}]*<([^>]*)>/g)].map(([, path]) => path);
    expect(bindings).toHaveLength(4);
    for (const path of bindings) expect(path).toMatch(/^\/Prototypes\/\w+\/Materials\//);
    const { differences, checks } = await comparedBy('usdz', scene, blobs);
    expect(differences).toEqual([]);
    expect(checks.find(({ what }) => what === 'Distinct geometry')).toMatchObject({ sent: '1', found: '1' });
  });

  it('that have rows below them keep both', async () => {
    const { scene, blobs } = await sceneWith([
      { name: 'Door', mesh: boxMesh(1, 2, 0.1), children: [{ name: 'Knob', mesh: ballMesh(0.03, 8) }] },
      { name: 'Door', mesh: boxMesh(1, 2, 0.1), transform: translation([2, 0, 0]), children: [{ name: 'Geometry', mesh: ballMesh(0.03, 8) }] },
    ]); // prettier-ignore
    expect((await comparedBy('usda', scene, blobs)).differences).toEqual([]);
  });
});

describe('movements', () => {
  /** A flap that swings by a quarter turn in one clip and in the next is put elsewhere at once, and a slide that only the second moves. */
  async function moving() {
    const { scene, blobs } = await sceneWith([
      { name: 'Flap', mesh: boxMesh(1, 1, 1), transform: translation([0, 1, 0]) },
      { name: 'Slide', mesh: boxMesh(1, 1, 1), transform: translation([5, 0, 0]) },
    ]);
    const half = Math.SQRT1_2;
    const keys = {
      swing: { tracks: [{ rotation: { times: [0, 1], values: [0, 0, 0, 1, 0, half, 0, half], interpolation: 'linear' } }] },
      shift: { tracks: [
        { translation: { times: [0, 2], values: [0, 1, 0, 0, 4, 0], interpolation: 'step' } },
        { translation: { times: [0, 2], values: [0, 0, 0, 5, 0, 0, 3, 0, 0, 3, 0, 0, 8, 0, 0, 0, 0, 0], interpolation: 'cubic' } },
      ] },
    }; // prettier-ignore
    const edit = new SceneEditor(scene);
    edit.setExtras(0, { motion: { tracks: { swing: 0, shift: 0 }, rest: scene.nodes.row(0).transform } });
    edit.setExtras(1, { motion: { tracks: { shift: 1 }, rest: scene.nodes.row(1).transform } });
    const animations: Scene['animations'] = {};
    for (const [id, name] of [
      ['swing', 'Swing'],
      ['shift', 'Shift “2”'],
    ] as const) {
      const stored = await blobs.put(new TextEncoder().encode(JSON.stringify(keys[id])));
      animations[id] = { id, name, source: 's', duration: id === 'swing' ? 1 : 2, nodes: 2, keys: stored };
    }
    return { scene: { ...edit.finish().scene, animations }, blobs };
  }

  it('stand one after the other on the timeline, under their names, and are found again', async () => {
    const { scene, blobs } = await moving();
    const text = await textOf(scene, blobs);
    // A second of swinging, a second between, two of shifting; 24 codes each.
    expect(text).toContain('clipStarts = [0, 48]');
    expect(text).toContain('clipEnds = [24, 96]');
    expect(text).toContain('endTimeCode = 96');
    for (const target of ['usda', 'usdz'] as const) {
      const { differences, checks } = await comparedBy(target, scene, blobs);
      expect(differences).toEqual([]);
      expect(checks.find(({ what }) => what.startsWith('Movements'))).toMatchObject({ sent: '2', holds: true });
    }
  });

  it('are what their keys mean between them too, and at rest between the clips', async () => {
    const { scene, blobs } = await moving();
    const read = await readAll(fileOf('hall.usda', await textOf(scene, blobs)));
    const keys = await keysOf(read.scene, read.blobs);
    const at = (name: string, time: number) => {
      const { motion } = read.scene.nodes.find((node) => node.name === name)!;
      const [[id, track]] = Object.entries(motion!.tracks);
      return placeAt(motion!, keys.get(id)!.tracks[track], time);
    };
    // Half way an eighth of a turn, with the place of its pivot as it is.
    const turned = composed([0, 1, 0], [0, Math.sin(Math.PI / 8), 0, Math.cos(Math.PI / 8)], [1, 1, 1]);
    at('Flap', 0.5).forEach((value, i) => expect(value).toBeCloseTo(turned[i], 6));
    // After the swing and before the shift it is where it rests.
    at('Flap', 1.5).forEach((value, i) => expect(value).toBeCloseTo(translation([0, 1, 0])[i], 6));
    // A step is one: just before it everything is as it was.
    expect(at('Flap', 3.99)[13]).toBeCloseTo(1, 6);
    expect(at('Flap', 4)[13]).toBeCloseTo(4, 6);
    // Half way along a cubic of tangents 3 from 5 to 8 over two seconds (glTF 2.0, appendix C): the middle.
    expect(at('Slide', 3)[12]).toBeCloseTo(6.5, 6);
  });
});

describe('names', () => {
  it('are letters and digits for programs, and as they are for people', async () => {
    const odd = ['Ø80 “A” / \\ "B"', 'Ø80 “A” / \\ "B"', '80', '…', 'Größe'];
    const { scene, blobs } = await sceneWith(odd.map((name) => ({ name, mesh: boxMesh(1, 1, 1) })));
    const { nodes } = (await readAll(fileOf('hall.usda', await textOf(scene, blobs)))).scene;
    expect([...nodes].filter(({ parent }) => parent === 0).map(({ name }) => name)).toEqual(odd);
    expect([...nodes][0].name).toBe('Hall 3');
  });

  it('of a job may be any: what stands beside its tree keeps its own', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Set', children: bolts }]);
    const files = await usdaWriter.write(scene, blobs, 'x', { title: 'Prototypes' });
    expect((await readBack(usdaWriter, files, scene, blobs)).differences).toEqual([]);
  });

  it('are told apart among neighbours, and kept from those that mean something else', () => {
    const names = new PrimNames(['Geometry']);
    const given = ['Rail', 'Rail', 'Rail 2', 'Rail', '3 m', '', 'Geometry'].map((name) => names.next(name));
    expect(given).toEqual(['Rail', 'Rail_2', 'Rail_2_2', 'Rail_3', 'N3_m', 'Part', 'Geometry_2']);
    expect(quoted('a "b" \\ c\n')).toBe('"a \\"b\\" \\\\ c\\n"');
  });

  const LEVELS = '%i levels below one another are written';
  it.each([1000])(LEVELS, levelsAreWritten);
  atLength.each([3000])(LEVELS, levelsAreWritten);

  async function levelsAreWritten(levels: number): Promise<void> {
    let spec: PartSpec = { name: 'Level', mesh: boxMesh(1, 1, 1) };
    for (let level = 0; level < levels; level++) spec = { name: 'Level', children: [spec] };
    const { scene, blobs } = await sceneWith([spec]);
    expect(await textOf(scene, blobs)).toContain('def Xform "Level"');
  }
});

describe('the package', () => {
  it('has its layer first, everything stored as it is, at multiples of 64 bytes (usdz specification)', async () => {
    const { scene, blobs } = await readOnce('glTF2/textureTransform/TextureTransformTest.gltf');
    const [{ bytes }] = await usdzWriter.write(scene, blobs, 'test');
    const entries = unzipSync(bytes);
    expect(Object.keys(entries)[0]).toBe('test.usda');
    expect(Object.keys(entries).length).toBeGreaterThan(1);
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    let at = 0;
    for (const [name, content] of Object.entries(entries)) {
      expect(view.getUint32(at, true)).toBe(0x04034b50);
      expect(view.getUint16(at + 8, true)).toBe(0);
      const start = at + 30 + view.getUint16(at + 26, true) + view.getUint16(at + 28, true);
      expect(start % 64, name).toBe(0);
      expect(view.getUint32(at + 14, true)).toBe(crc32(content));
      at = start + content.length;
    }
  });

  it('has the checksums of ISO 3309: that of “123456789” is CBF43926', () => {
    expect(crc32(new TextEncoder().encode('123456789')).toString(16)).toBe('cbf43926');
  });
});
