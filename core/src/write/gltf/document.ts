/**
 * A scene as a document of glTF: names, hierarchy, pivots and shared geometry are kept, parts that show the same mesh refer to the same
 * accessors.
 */
import type { Accessor, Buffer, Document, Mesh as GltfMesh, Node } from '@gltf-transform/core';
import { unpackMesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import type { PlacedMesh } from '../../mesh/placed.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY, isIdentity } from '../../scene/matrix.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { geometryKey } from '../assets.ts';
import type { WriteOptions } from '../writer.ts';
import { GltfAnimations } from './animations.ts';
import { pack } from './compress.ts';
import { GltfMaterials } from './materials.ts';

/**
 * The document, what writes it, and the buffer of all that is not geometry.
 * @param bufferOf the buffer that the geometry of a part goes into; one for all where nothing is said
 */
export async function documentOf(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions,
  bufferOf?: (document: Document, node: SceneNode) => Buffer,
) {
  // Loaded when something is written: the list of writers is also shown in the browser, which writes nothing.
  const { Document, WebIO } = await import('@gltf-transform/core');
  const extensions = await import('@gltf-transform/extensions');
  const document = new Document();
  document.getRoot().getAsset().generator = 'Noble Prism';
  const buffer = document.createBuffer();
  const gltfScene = document.createScene(options.title ?? name);
  document.getRoot().setDefaultScene(gltfScene);
  const materials = new GltfMaterials(document, scene, blobs, extensions, options);
  const maker =
    (into: Buffer): MakeAccessor =>
    (array, type) =>
      document
        .createAccessor()
        .setArray(array as never)
        .setType(type)
        .setBuffer(into);

  // (1) Geometry once per mesh and pivot, meshes once per geometry and list of materials.
  const geometries = new Map<string, Geometry>();
  const meshes = new Map<string, GltfMesh>();
  const meshFor = async (node: SceneNode, hash: string): Promise<GltfMesh> => {
    const shape = geometryKey(node);
    let geometry = geometries.get(shape);
    if (!geometry) {
      const make = maker(bufferOf?.(document, node) ?? buffer);
      geometry = writeGeometry(placedMesh(unpackMesh(await blobs.get(hash)), node.offset ?? IDENTITY), make);
      geometries.set(shape, geometry);
    }
    const { attributes, primitives } = geometry;
    const ids = primitives.map(({ slot }) => materialOfSlot(node, slot));
    const key = `${shape} ${ids.join(' ')}`;
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
  const { compression } = options;
  if (compression) io.registerDependencies(await pack(document, extensions, compression));
  return { document, io, buffer };
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

type MakeAccessor = (
  array: Float32Array | Uint16Array | Uint32Array,
  type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR',
) => Accessor;

/** Triangles per slot; points or lines for a part that has nothing else. */
function writeGeometry(mesh: PlacedMesh, make: MakeAccessor): Geometry {
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
