/**
 * Writes a scene as glTF 2.0 (ISO/IEC 12113), in one binary file or with its parts in files of their own: metres, +Y up. Names, hierarchy, pivots and shared geometry are kept:
 * parts that show the same mesh refer to the same accessors.
 */
import type { Accessor, Document, Mesh as GltfMesh, Node } from '@gltf-transform/core';
import { unpackMesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import type { PlacedMesh } from '../../mesh/placed.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY, isIdentity } from '../../scene/matrix.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { GltfAnimations } from './animations.ts';
import { pack, TOLERANCE } from './compress.ts';
import { GltfMaterials } from './materials.ts';
import { PictureNames } from '../pictureFiles.ts';
import type { WriteOptions, Writer, WrittenFile } from '../writer.ts';

const common: Omit<Writer, 'target' | 'title' | 'ending' | 'write' | 'rows'> = {
  units: ['m'],
  ups: ['y'],
  states: { unit: true, up: true },
  structure: 'tree',
  compressions: { meshopt: TOLERANCE },
  places: 'own',
  precision: 'single',
  perTriangle: 18,
  carries: { meshes: true,
    tree: true, names: true, instances: true, layers: 'as data of the node (extras)', pivots: true, empties: true, lines: true, points: true, normals: true, uvs: true,
    moreUvs: true, colours: true, materials: true, baseColor: true, opacity: true, metalRough: true, emission: true, glass: true, coat: true,
    unlit: true, cutoff: true, sides: true, colourPictures: true, surfacePictures: true, picturePlaces: true, cameras: true, lights: true,
    movements: true, metadata: 'as data of the node (extras)',
  }, // prettier-ignore
};

export const glbWriter: Writer = {
  ...common,
  target: 'glb',
  title: 'Binary glTF 2.0',
  ending: 'glb',
  write: async (scene, blobs, name, options) => [
    { name: `${name}.glb`, mime: 'model/gltf-binary', bytes: await writeGlb(scene, blobs, name, options) },
  ],
  // Loaded when something is read back, as it is heavy.
  rows: async ([file]) => (await import('../../transmit/read/gltf.ts')).openGlb(file.bytes),
};

export const gltfWriter: Writer = {
  ...common,
  target: 'gltf',
  title: 'glTF 2.0 (files apart)',
  ending: 'gltf',
  write: writeGltf,
  rows: async (files) => (await import('../../transmit/read/gltf.ts')).openGltf(files),
};

/** @returns the bytes of the file */
export async function writeGlb(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions = {},
): Promise<Uint8Array> {
  const { document, io } = await documentOf(scene, blobs, name, options);
  return io.writeBinary(document);
}

/** @returns the text, then its numbers and pictures */
async function writeGltf(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions = {},
): Promise<WrittenFile[]> {
  const { document, io } = await documentOf(scene, blobs, name, options);
  const root = document.getRoot();
  for (const buffer of root.listBuffers()) buffer.setURI(`${name}.bin`);
  const names = new PictureNames('textures/');
  for (const texture of root.listTextures()) texture.setURI(names.next(texture.getName(), texture.getMimeType()));
  const { json, resources } = await io.writeJSON(document);
  const bytes = new TextEncoder().encode(JSON.stringify(json));
  const mimes = new Map(root.listTextures().map((texture) => [texture.getURI(), texture.getMimeType()]));
  return [
    { name: `${name}.gltf`, mime: 'model/gltf+json', bytes },
    ...Object.entries(resources).map(([path, content]) => ({
      name: path,
      mime: mimes.get(path) ?? 'application/octet-stream',
      bytes: content as Uint8Array,
    })),
  ];
}

/** The document, and what writes it. */
async function documentOf(scene: Scene, blobs: BlobStore, name: string, options: WriteOptions) {
  // Loaded when something is written: the list of writers is also shown in the browser, which writes nothing.
  const { Document, WebIO } = await import('@gltf-transform/core');
  const extensions = await import('@gltf-transform/extensions');
  const document = new Document();
  document.getRoot().getAsset().generator = 'Noble Prism';
  const buffer = document.createBuffer();
  const gltfScene = document.createScene(options.title ?? name);
  document.getRoot().setDefaultScene(gltfScene);
  const materials = new GltfMaterials(document, scene, blobs, extensions, options);
  const make = (array: Float32Array | Uint16Array | Uint32Array, type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR') =>
    document
      .createAccessor()
      .setArray(array as never)
      .setType(type)
      .setBuffer(buffer);

  // (1) Geometry once per mesh and pivot, meshes once per geometry and list of materials.
  const geometries = new Map<string, Geometry>();
  const meshes = new Map<string, GltfMesh>();
  const meshFor = async (node: SceneNode, hash: string): Promise<GltfMesh> => {
    const geometryKey = `${hash} ${node.offset?.join(' ') ?? ''}`;
    let geometry = geometries.get(geometryKey);
    if (!geometry) {
      geometry = writeGeometry(placedMesh(unpackMesh(await blobs.get(hash)), node.offset ?? IDENTITY), make);
      geometries.set(geometryKey, geometry);
    }
    const { attributes, primitives } = geometry;
    const ids = primitives.map(({ slot }) => materialOfSlot(node, slot));
    const key = `${geometryKey} ${ids.join(' ')}`;
    let mesh = meshes.get(key);
    if (!mesh) {
      mesh = document.createMesh(node.name);
      for (const [i, { mode, indices }] of primitives.entries()) {
        const primitive = document.createPrimitive().setMode(mode);
        for (const [semantic, accessor] of attributes) primitive.setAttribute(semantic, accessor);
        if (indices) primitive.setIndices(indices);
        if (mode === TRIANGLES || node.materials.length > 0) primitive.setMaterial(await materials.get(ids[i]));
        mesh.addPrimitive(primitive);
      }
      meshes.set(key, mesh);
    }
    return mesh;
  };

  const animations = await GltfAnimations.open(document, buffer, scene, blobs);
  // (2) Nodes with parents before their children, though steps add rows above others later.
  const nodes = new Map<number, Node>();
  for (const row of factsOf(scene).order) {
    const node = scene.nodes.row(row);
    const made = document.createNode(node.name);
    if (!isIdentity(node.transform, 0)) made.setMatrix([...node.transform] as never);
    made.setExtras({
      key: node.key,
      ...(node.layer === null ? {} : { layer: node.layer }),
      ...(node.occurrence ? { occurrence: node.occurrence } : {}),
      ...(node.class ? { class: node.class } : {}),
      ...(node.properties ? { properties: node.properties } : {}),
    });
    if (node.mesh) made.setMesh(await meshFor(node, node.mesh));
    if (node.motion) animations.move(made, node.motion);
    if (node.camera) made.setCamera(cameraOf(document, node));
    if (node.light && node.light.type !== 'ambient') {
      const { type, color, intensity, inner, outer } = node.light;
      const lights = document.createExtension(extensions.KHRLightsPunctual);
      const light = lights.createLight(node.name).setType(type).setColor(color).setIntensity(intensity);
      if (outer !== undefined) light.setOuterConeAngle(outer).setInnerConeAngle(Math.min(inner ?? 0, outer * 0.999));
      made.setExtension('KHR_lights_punctual', light);
    }
    nodes.set(node.id, made);
    const parent = node.parent === null ? undefined : nodes.get(node.parent);
    if (parent) parent.addChild(made);
    else gltfScene.addChild(made);
  }
  /** The library leaves out places within a hundredth of a millimetre of none: through many levels, and on small parts, that adds up. */
  class ExactIO extends WebIO {
    override async writeJSON(...given: Parameters<InstanceType<typeof WebIO>['writeJSON']>) {
      const out = await super.writeJSON(...given);
      document
        .getRoot()
        .listNodes()
        .forEach((node, i) => Object.assign(out.json.nodes?.[i] ?? {}, placeOf(node)));
      return out;
    }
  }
  const io = new ExactIO().registerExtensions(extensions.ALL_EXTENSIONS);
  if (options.compression === 'meshopt') io.registerDependencies(await pack(document, extensions));
  return { document, io };
}

/** Move, turn and scale of a node, where they are any. */
function placeOf(node: Node): { translation?: number[]; rotation?: number[]; scale?: number[] } {
  const [translation, rotation, scale] = [node.getTranslation(), node.getRotation(), node.getScale()];
  return {
    ...(translation.some((value) => value !== 0) ? { translation: [...translation] } : {}),
    ...(rotation.slice(0, 3).some((value) => value !== 0) ? { rotation: [...rotation] } : {}),
    ...(scale.some((value) => value !== 1) ? { scale: [...scale] } : {}),
  };
}

const POINTS = 0;
const LINES = 1;
const TRIANGLES = 4;

interface Geometry {
  attributes: [semantic: string, accessor: Accessor][];
  primitives: { slot: number; mode: typeof POINTS | typeof LINES | typeof TRIANGLES; indices?: Accessor }[];
}

/** Triangles per slot; points or lines for a part that has nothing else. */
function writeGeometry(
  mesh: PlacedMesh,
  make: (array: Float32Array | Uint16Array | Uint32Array, type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR') => Accessor,
): Geometry {
  const points = (values: Float32Array | Float64Array) =>
    make(values instanceof Float32Array ? values : Float32Array.from(values), 'VEC3');
  if (mesh.positions.length === 0)
    return { attributes: [['POSITION', points(mesh.edges)]], primitives: [{ slot: 0, mode: LINES }] };
  const attributes: Geometry['attributes'] = [['POSITION', points(mesh.positions)]];
  if (mesh.indices.length > 0) attributes.push(['NORMAL', make(mesh.normals, 'VEC3')]);
  mesh.uvs?.forEach((set, i) => attributes.push([`TEXCOORD_${i}`, make(set, 'VEC2')]));
  if (mesh.colours) attributes.push(['COLOR_0', make(mesh.colours, 'VEC4')]);
  if (mesh.indices.length === 0) return { attributes, primitives: [{ slot: 0, mode: POINTS }] };
  const small = mesh.positions.length / 3 <= 65535;
  const primitives = mesh.groups.map(({ slot, start, count }) => {
    const part = mesh.indices.subarray(start, start + count);
    const indices = make(small ? Uint16Array.from(part) : part.slice(), 'SCALAR');
    return { slot, mode: TRIANGLES, indices } as const;
  });
  return { attributes, primitives };
}

function cameraOf(document: Document, { name, camera }: SceneNode) {
  const made = document.createCamera(name);
  if (camera?.type === 'orthographic')
    return made
      .setType('orthographic')
      .setXMag(camera.height / 2)
      .setYMag(camera.height / 2)
      .setZNear(Math.max(0, camera.near))
      .setZFar(Math.max(camera.far, camera.near * 2));
  if (camera) {
    made.setType('perspective').setYFov(camera.fov).setZNear(Math.max(camera.near, 1e-4));
    if (camera.far !== undefined && camera.far > camera.near) made.setZFar(camera.far);
  }
  return made;
}
