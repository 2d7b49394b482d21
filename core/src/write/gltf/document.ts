/**
 * A scene as a document of glTF: names, hierarchy, pivots and shared geometry are kept, parts that show the same mesh refer to the same
 * accessors.
 */
import type { Accessor, Buffer, Document, Mesh as GltfMesh } from '@gltf-transform/core';
import { unpackMesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import type { PlacedMesh } from '../../mesh/placed.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import type { LightInfo, Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { geometryKey } from '../assets.ts';
import type { WriteOptions } from '../writer.ts';
import { GltfAnimations } from './animations.ts';
import { pack } from './compress.ts';
import { GltfMaterials } from './materials.ts';
import { instanceLists, putList } from './instances.ts';
import type { Instance } from './instances.ts';
import { GltfNodes } from './nodes.ts';
import { GltfVariants } from './variants.ts';

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
  document.getRoot().setDefaultScene(document.createScene(options.title ?? name));
  const materials = new GltfMaterials(document, scene, blobs, extensions, options);
  const variants = new GltfVariants(document, extensions, materials);
  const maker =
    (into: Buffer): MakeAccessor =>
    (array, type) =>
      document
        .createAccessor()
        .setArray(array as never)
        .setType(type)
        .setBuffer(into);

  // (1) Geometry once per mesh and pivot, meshes once per geometry and lists of materials.
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
    const key = `${shape} ${ids.join(' ')} ${variants.keyOf(node)}`;
    let mesh = meshes.get(key);
    if (!mesh) {
      mesh = document.createMesh(node.name);
      for (const [i, { mode, indices }] of primitives.entries()) {
        const primitive = document.createPrimitive().setMode(mode);
        for (const [semantic, accessor] of attributes) primitive.setAttribute(semantic, accessor);
        if (indices) primitive.setIndices(indices);
        if (mode === TRIANGLES || node.materials.length > 0) primitive.setMaterial(await materials.get(ids[i]));
        await variants.put(primitive, node, primitives[i].slot);
        mesh.addPrimitive(primitive);
      }
      meshes.set(key, mesh);
    }
    return mesh;
  };

  const animations = await GltfAnimations.open(document, buffer, scene, blobs);
  // (2) Nodes with parents before their children, though steps add rows above others later.
  const nodes = new GltfNodes();
  const { lists, others } = options.instancing ? instanceLists(scene) : NO_LISTS;
  for (const row of factsOf(scene).order) {
    if (others.has(row)) continue;
    const node = scene.nodes.row(row);
    const list = lists.get(row);
    const light = node.light?.type === 'ambient' ? undefined : node.light;
    const linked = list || node.motion || node.camera || light ? document.createNode() : undefined;
    if (linked) {
      if (list) putList(document, extensions, buffer, linked, list);
      if (node.motion) animations.move(linked, node.motion);
      if (node.camera) linked.setCamera(cameraOf(document, node));
      if (light) linked.setExtension('KHR_lights_punctual', lightOf(document, extensions, node.name, light));
    }
    const said = list?.map(({ row: one, at }): Instance => ({ name: scene.nodes.text('name', one), at, ...dataOf(scene.nodes.row(one)) })); // prettier-ignore
    nodes.add(row, node.parent, {
      name: list ? `${node.name} × ${list.length}` : node.name,
      extras: said ? { instances: said } : dataOf(node),
      ...(list ? {} : { transform: node.transform }),
      ...(node.mesh ? { mesh: await meshFor(node, node.mesh) } : {}),
      ...(linked ? { linked } : {}),
    });
  }
  class NodesIO extends WebIO {
    override async writeJSON(...given: Parameters<InstanceType<typeof WebIO>['writeJSON']>) {
      const out = await super.writeJSON(...given);
      nodes.put(document, out.json);
      return out;
    }
  }
  const io = new NodesIO().registerExtensions(extensions.ALL_EXTENSIONS);
  const { compression } = options;
  if (compression) io.registerDependencies(await pack(document, extensions, compression));
  return { document, io, buffer };
}

const NO_LISTS: ReturnType<typeof instanceLists> = { lists: new Map(), others: new Set() };

/** What glTF has no place for, as data of a node. */
function dataOf({ key, layer, occurrence, class: own, properties }: SceneNode) {
  return {
    key,
    ...(layer === null ? {} : { layer }),
    ...(occurrence ? { occurrence } : {}),
    ...(own ? { class: own } : {}),
    ...(properties ? { properties } : {}),
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

type Extensions = typeof import('@gltf-transform/extensions');

function lightOf(document: Document, { KHRLightsPunctual }: Extensions, name: string, said: LightInfo) {
  const { type, color, intensity, inner, outer } = said;
  const light = document.createExtension(KHRLightsPunctual).createLight(name).setType(type as 'point').setColor(color).setIntensity(intensity); // prettier-ignore
  if (outer !== undefined) light.setOuterConeAngle(outer).setInnerConeAngle(Math.min(inner ?? 0, outer * 0.999));
  return light;
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
