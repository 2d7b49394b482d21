// Every writer against readers and checkers that are not ours: a box of known size in every unit and with both axes up, a picture with a
// marked corner, open models there and back, the validators of the formats.
import load from '@3mfconsortium/lib3mf';
import { getBounds } from '@gltf-transform/functions';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import { join } from 'node:path';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import { ColladaLoader } from 'three/addons/loaders/ColladaLoader.js';
import { USDLoader } from 'three/addons/loaders/USDLoader.js';
import { Box3, Matrix4, Vector3 } from 'three';
import draco from 'draco3dgltf';
import { IfcAPI } from 'web-ifc';
import type { Mesh as ThreeMesh, Object3D } from 'three';
import { Window } from 'happy-dom';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nodePictures } from '../../../node/src/pictures.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { MemoryBlobs } from '../memoryStores.ts';
import { composed, translation } from '../scene/matrix.ts';
import type { Scene } from '../scene/types.ts';
import { atLength } from '../testing/atLength.ts';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { checkStl, colladaFaults, inFolder } from '../testing/checkers.ts';
import { fileOf, modelOf, readAll, readOnce } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import { secondReadingAt } from '../testing/secondReader.ts';
import { meshesOfSecondReader } from '../testing/secondUsd.ts';
import { boxOfX3d, understoodX3d } from '../testing/secondX3d.ts';
import { sentTo } from '../testing/sent.ts';
import { LENGTH_UNITS } from '../units.ts';
import { MESH_WRITERS, writerFor } from './formats.ts';
import { WrittenFile } from './writer.ts';
import type { FileUnit, UpAxis } from './writer.ts';

// Loaders tell which version they read, and that they turn what is z up.
beforeEach(() => ['log', 'warn'].forEach((way) => vi.spyOn(console, way as 'log').mockImplementation(() => {})));
afterEach(() => vi.restoreAllMocks());

const text = (file: WrittenFile) => new TextDecoder().decode(file.bytes);

/** A box of 1 by 2 by 3 m whose middle lies at (10, 20, 30), two levels deep, turned by a quarter about x on the way and mirrored back. */
const boxed = async () => {
  const made = await sceneWith([{ name: 'Rig', transform: composed([10, 20, 30], [Math.SQRT1_2, 0, 0, Math.SQRT1_2], [1, 1, 1]), children: [
    { name: 'Box', mesh: boxMesh(1, 3, 2), materials: ['#112233'], transform: composed([0, 0, 0], [0, 0, 0, 1], [1, 1, -1]) },
  ] }]); // prettier-ignore
  return { ...made, scene: upright(made.scene) };
};

/** Turned to y up, as every job is to begin with. */
const upright = (scene: Scene): Scene => ({
  ...scene,
  sources: scene.sources.map((source) => ({ ...source, up: 'y' })),
});

/** Its box in the file. */
function expectedBox(unit: FileUnit, up: UpAxis): { min: number[]; max: number[] } {
  const scale = (values: number[]) => values.map((value) => value / LENGTH_UNITS[unit]);
  const [min, max] = [[9.5, 19, 28.5], [10.5, 21, 31.5]]; // prettier-ignore
  if (up === 'y') return { min: scale(min), max: scale(max) };
  return { min: scale([min[0], -max[2], min[1]]), max: scale([max[0], -min[2], max[1]]) };
}

const close = (found: readonly number[], expected: readonly number[]) =>
  expected.forEach((value, i) => expect(found[i]).toBeCloseTo(value, Math.abs(value) > 1000 ? 1 : 3));

const ways = MESH_WRITERS.flatMap(({ target, units, ups }) => units.flatMap((unit) => ups.map((up) => ({ format: target, unit, up })))); // prettier-ignore

describe('a box of known size', () => {
  const AS = 'as $format in $unit, $up up';
  // Of each format one way or more: the others differ from it by a factor and a turn.
  it.each(ways.filter((_, i) => i % 2 === 0))(AS, isOfThatSize);
  atLength.each(ways.filter((_, i) => i % 2 === 1))(AS, isOfThatSize);

  async function isOfThatSize({ format, unit, up }: (typeof ways)[number]): Promise<void> {
    const { scene, blobs } = await boxed();
    const { output, readBack } = await sentTo(scene, blobs, { format, unit, up });
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    const { min, max } = expectedBox(unit, up);
    const box = await boxOf(format, output.files);
    // A reader that follows what the file says of its unit and axis has metres and y up.
    const { states } = writerFor(format)!;
    const stated = states.unit && /^(dae|ifc|usd)/.test(format) ? expectedBox('m', 'y') : { min, max };
    close(box.min, stated.min);
    close(box.max, stated.max);
    if (format === 'stl') {
      const check = checkStl(output.files[0].bytes);
      expect(check).toMatchObject({ facets: 12, faults: 0 });
      // Mirrored twice or turned: what is inside stays inside.
      expect(check.volume / (6 / LENGTH_UNITS[unit] ** 3)).toBeCloseTo(1, 4);
      expect(text(output.files[0]).slice(0, 40)).toContain(`unit ${unit}; ${up} up`);
      expect(output.files[0].name).toBe(`x_${unit}.stl`);
    }
  }
});

/** As another library or program measures it. */
async function boxOf(format: string, files: readonly WrittenFile[]): Promise<{ min: number[]; max: number[] }> {
  if (format === 'glb' || format === 'gltf') {
    const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
    const resources = Object.fromEntries(files.slice(1).map(({ name, bytes }) => [name, bytes])) as never;
    const document = format === 'glb' ? await io.readBinary(files[0].bytes) : await io.readJSON({ json: JSON.parse(text(files[0])) as never, resources }); // prettier-ignore
    return getBounds(document.getRoot().listScenes()[0]);
  }
  if (format === '3mf') return lib3mfBox(files[0].bytes);
  if (format.startsWith('x3d')) {
    const understood = understoodX3d(files);
    expect(understood.warnings).toEqual([]);
    return boxOfX3d(understood);
  }
  if (format === 'usda' || format === 'usdz') return usdBox(format, files[0]);
  if (format === 'dae') return colladaBox(files[0]);
  if (format.startsWith('ifc')) return webIfcBox(files[0]);
  return inFolder(files, (folder) => secondReadingAt(join(folder, files[0].name))!);
}

/** By web-ifc, which follows the file: metres, y up. */
async function webIfcBox({ bytes }: WrittenFile) {
  const api = new IfcAPI();
  await api.Init(undefined, true);
  const model = api.OpenModel(bytes, { COORDINATE_TO_ORIGIN: false });
  const box = new Box3();
  api.StreamAllMeshes(model, ({ geometries }) => {
    for (let i = 0; i < geometries.size(); i++) {
      const { geometryExpressID, flatTransformation } = geometries.get(i);
      const geometry = api.GetGeometry(model, geometryExpressID);
      const values = api.GetVertexArray(geometry.GetVertexData(), geometry.GetVertexDataSize());
      const place = new Matrix4().fromArray(flatTransformation);
      // Three numbers of a point, three of its normal.
      for (let v = 0; v < values.length; v += 6) box.expandByPoint(new Vector3().fromArray(values, v).applyMatrix4(place)); // prettier-ignore
    }
  });
  api.CloseModel(model);
  return { min: box.min.toArray(), max: box.max.toArray() };
}

let consortium: ReturnType<typeof load> | undefined;

/** Read in strict mode by the library of the consortium. */
async function lib3mfBox(bytes: Uint8Array) {
  const library = await (consortium ??= load());
  const model = new library.CWrapper().CreateModel();
  const reader = model.QueryReader('3mf');
  reader.SetStrictModeActive(true);
  library.FS.writeFile('/in.3mf', bytes);
  reader.ReadFromFile('/in.3mf');
  expect(reader.GetWarningCount()).toBe(0);
  const box = model.GetOutbox();
  const values = (corner: string) => [0, 1, 2].map((i) => box[`get_${corner}Coordinate${i}`]());
  const found = { min: values('Min'), max: values('Max') };
  reader.delete();
  model.delete();
  return found;
}

/** By the loader of three.js, which follows the file: metres, y up. */
function colladaBox(file: WrittenFile) {
  Object.assign(globalThis, { DOMParser: new Window().DOMParser });
  try {
    const { scene } = new ColladaLoader().parse(text(file), '') as { scene: Object3D };
    scene.updateMatrixWorld(true);
    const box = new Box3().setFromObject(scene, true);
    return { min: box.min.toArray(), max: box.max.toArray() };
  } finally {
    Reflect.deleteProperty(globalThis, 'DOMParser');
  }
}

/** By the loader of three.js, which follows the file: metres, y up; as many meshes as another reader finds. */
async function usdBox(format: string, file: WrittenFile) {
  const { buffer } = file.bytes;
  const group = new USDLoader().parse(format === 'usdz' ? buffer : text(file)) as Object3D;
  group.updateMatrixWorld(true);
  const box = new Box3().setFromObject(group, true);
  expect(await meshesOfSecondReader(file.bytes, `x.${format}`)).toHaveLength(1);
  return { min: box.min.toArray(), max: box.max.toArray() };
}

/** A square whose upper left corner (u 0, v 0 in the scene) is marked red in its picture. */
async function marked(): Promise<{ scene: Scene; blobs: MemoryBlobs }> {
  const data = new Uint8Array(8 * 8 * 4).fill(255);
  data.set([255, 0, 0, 255], 0);
  const png = await nodePictures.encode({ width: 8, height: 8, data });
  // Lower left is 0 0 in OBJ: the vertex at (0, 1) has the upper left corner of the picture.
  const obj = 'mtllib m.mtl\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvn 0 0 1\nusemtl shown\nf 1/1/1 2/2/1 3/3/1 4/4/1\n';
  const mtl = 'newmtl shown\nKd 1 1 1\nmap_Kd mark.png\n';
  return readAll(fileOf('mark.obj', obj, { 'm.mtl': mtl, 'mark.png': png }), { pictures: nodePictures });
} // prettier-ignore

describe('a picture with a marked corner', () => {
  const pictured = MESH_WRITERS.filter(({ carries }) => carries.colourPictures === true).map(({ target }) => target);

  it.each(pictured)('lands the right way up as %s', async (format) => {
    const { scene: read, blobs } = await marked();
    const scene = upright(read);
    const { output, readBack } = await sentTo(scene, blobs, { format, up: format === '3mf' ? 'z' : 'y' }, { pictures: nodePictures });
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    const beside = Object.fromEntries(output.files.map(({ name, bytes }) => [name, bytes]));
    const again = await readAll(fileOf(output.files[0].name, output.files[0].bytes, beside), { pictures: nodePictures });
    const part = again.scene.nodes.filter((node) => node.mesh)[0];
    const mesh = unpackMesh(await again.blobs.get(part.mesh!));
    const up = format === '3mf' ? 2 : 1;
    const corner = Array.from({ length: mesh.positions.length / 3 }, (_, i) => i).find(
      (i) => mesh.positions[i * 3] < 1e-6 && Math.abs(mesh.positions[i * 3 + up]) * (format === '3mf' ? 1 : 1) > 1e-6,
    )!;
    expect([...mesh.uvs![0].subarray(corner * 2, corner * 2 + 2)].map((value) => value + 0)).toEqual([0, 0]);
    const texture = again.scene.textures[again.scene.materials[part.materials[0]].textures!.baseColor!.texture];
    const picture = await nodePictures.decode(await again.blobs.get(texture.blob!), texture.mime);
    expect([...picture.data.subarray(0, 3)]).toEqual([255, 0, 0]);
  }); // prettier-ignore

  it.each(['obj', 'ply'])('and so for another reader of %s', async (format) => {
    const { scene: read, blobs } = await marked();
    const scene = upright(read);
    const { output } = await sentTo(scene, blobs, { format, up: 'y' }, { pictures: nodePictures });
    const [{ bytes }] = output.files;
    const geometry = format === 'obj' ? (new OBJLoader().parse(text(output.files[0])).children[0] as ThreeMesh).geometry : new PLYLoader().parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer);
    const { position, uv } = geometry.attributes;
    for (let i = 0; i < position.count; i++) expect([uv.getX(i), uv.getY(i)]).toEqual([position.getX(i), position.getY(i)]);
  }); // prettier-ignore
});

const OPEN = ['3MF/box.3mf', 'glTF2/cameras/Cameras.gltf', 'OBJ/testline.obj'];
/** Larger ones, and more of the same kinds. */
const MORE = [
  'Collada/box_nested_animation.dae',
  'PLY/float-color.ply',
  'OBJ/spider.obj',
  'Collada/duck.dae',
  'STL/Spider_binary.stl',
  'glTF2/textureTransform/TextureTransformTest.gltf',
];

describe('open models, there and back', () => {
  it.each(OPEN)('%s', thereAndBack);
  atLength.each(MORE)('%s', thereAndBack);

  async function thereAndBack(path: string): Promise<void> {
    const { scene, blobs } = await readAll(modelOf(path), { pictures: nodePictures });
    for (const { target: format, carries } of MESH_WRITERS) {
      if (path.includes('line') && !carries.lines) continue;
      const { output, readBack } = await sentTo(scene, blobs, { format }, { pictures: nodePictures });
      expect(readBack, format).toMatchObject({ holds: true, differences: [] });
      const [{ bytes }] = output.files;
      if (format === 'dae') expect(colladaFaults(bytes)).toEqual([]);
      if (format === '3mf') await lib3mfBox(bytes);
      if (format.startsWith('x3d')) expect(understoodX3d(output.files).warnings).toEqual([]);
      if (format === 'glb') expect(await errorsOf(output.files)).toEqual([]);
      if (format === 'gltf') expect(await errorsOf(output.files)).toEqual([]);
    }
  }

  atLength('the house of an open IFC keeps names that a schema refuses in a form that it takes', async () => {
    const { scene, blobs } = await readOnce('house.ifc');
    const { output, readBack } = await sentTo(scene, blobs, { format: 'dae', unit: 'mm', up: 'z' });
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    expect(colladaFaults(output.files[0].bytes)).toEqual([]);
    expect(text(output.files[0])).toContain('name="_0._Erdgeschoss"');
  });
});

async function errorsOf(files: readonly WrittenFile[]): Promise<string[]> {
  const beside = new Map(files.map(({ name, bytes }) => [name, bytes]));
  const { issues } = await validateBytes(files[0].bytes, {
    externalResourceFunction: (uri: string) => Promise.resolve(beside.get(decodeURIComponent(uri))!),
  });
  return issues.messages.filter(({ severity }) => severity === 0).map(({ message }) => message);
}

describe('what goes wrong in a file is found', () => {
  it.each(MESH_WRITERS.filter(({ target }) => target !== 'usdz' && target !== '3mf').map(({ target }) => target))(
    'cut off: %s',
    async (format) => {
      const { scene, blobs } = await boxed();
      const writer = writerFor(format)!;
      const { output } = await sentTo(scene, blobs, { format });
      const [first, ...others] = output.files;
      const cut = [new WrittenFile(first.name, first.mime, first.bytes.slice(0, -150)), ...others];
      const { readBack } = await import('../transmit/readback.ts');
      expect((await readBack(writer, cut, scene, blobs)).holds).toBe(false);
    },
  );

  it('in another unit than was said', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'A', mesh: boxMesh(1, 1, 1), transform: translation([1, 0, 0]) }]);
    const { readBack } = await import('../transmit/readback.ts');
    const files = await writerFor('stl')!.write(scene, blobs, 'x');
    const wrong = await readBack(writerFor('stl')!, files, scene, blobs, { told: { unit: 'cm', up: 'z' } });
    expect(wrong.holds).toBe(false);
  }); // prettier-ignore
});

describe('packed numbers', () => {
  const WITHIN = 'of %s read back within what is said';
  it.each(['3MF/box.3mf', 'PLY/float-color.ply'])(WITHIN, packsAndReadsBack);
  atLength.each(['glTF2/cameras/Cameras.gltf', ...MORE.filter((path) => !path.startsWith('PLY'))])(
    WITHIN,
    packsAndReadsBack,
  );

  async function packsAndReadsBack(path: string): Promise<void> {
    const { scene, blobs } = await readAll(modelOf(path), { pictures: nodePictures });
    const decoders = { 'meshopt.decoder': MeshoptDecoder, 'draco3d.decoder': await draco.createDecoderModule() };
    for (const compression of ['meshopt', 'draco'] as const)
      for (const format of ['glb', 'gltf']) {
        const packed = await sentTo(scene, blobs, { format, compression }, { pictures: nodePictures });
        expect(packed.readBack, `${format} ${compression}`).toMatchObject({ holds: true, differences: [] });
        // As another library unpacks it: the validator does not know what is packed.
        if (format === 'gltf') continue;
        const io = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies(decoders);
        const document = await io.readBinary(packed.output.files[0].bytes);
        for (const extension of document.getRoot().listExtensionsUsed())
          if (/EXT_meshopt_compression|KHR_draco_mesh_compression/.test(extension.extensionName)) extension.dispose();
        const plain = await io.writeBinary(document);
        expect(await errorsOf([new WrittenFile('x.glb', '', plain)])).toEqual([]);
      }
  } // prettier-ignore

  it('by draco make a smooth shape half as large, and keep shared shapes and slots', async () => {
    const parts = [0, 1, 2].map((i) => ({ name: `Ball ${i}`, mesh: ballMesh(0.5, 48), transform: translation([i, 0, 0]), materials: ['#112233'] })); // prettier-ignore
    const { scene, blobs } = await sceneWith([...parts, { name: 'Case', mesh: boxMesh(1, 2, 3, 2), materials: ['#ff0000', '#00ff00'] }]); // prettier-ignore
    const plain = await sentTo(scene, blobs, { format: 'glb' });
    const packed = await sentTo(scene, blobs, { format: 'glb', compression: 'draco' });
    expect(packed.readBack).toMatchObject({ holds: true, differences: [] });
    expect(packed.readBack?.checks.find(({ what }) => what === 'Distinct geometry')).toMatchObject({
      sent: '2',
      found: '2',
    });
    expect(plain.output.files[0].bytes.length / packed.output.files[0].bytes.length).toBeGreaterThan(2);
  });
});
