/**
 * A scene as a document of glTF: names, hierarchy, pivots and shared geometry are kept, parts that show the same mesh refer to the same
 * accessors.
 */
import type { Buffer, Document, Mesh as GltfMesh, WebIO } from '@gltf-transform/core';
import { memorySpool } from '../../content.ts';
import { unpackMesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import type { LightInfo, Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { geometryKey } from '../assets.ts';
import type { WriteOptions } from '../writer.ts';
import { GltfAnimations } from './animations.ts';
import { pack } from './compress.ts';
import { keptGeometry, TRIANGLES, writeGeometry } from './geometry.ts';
import type { Geometry } from './geometry.ts';
import { GltfMaterials } from './materials.ts';
import { instanceLists, putList } from './instances.ts';
import type { Instance } from './instances.ts';
import { GltfNodes } from './nodes.ts';
import { StreamedGeometry } from './streamed.ts';
import { GltfVariants } from './variants.ts';

export interface WrittenDocument {
  document: Document;
  io: WebIO;
  buffer: Buffer;
  streamed: StreamedGeometry | undefined;
}

/**
 * The document, what writes it, the buffer of all that is not geometry, and the geometry where that is not kept in the document.
 * @param bufferOf the buffer that the geometry of a part goes into; one for all where nothing is said
 */
export async function documentOf(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions,
  bufferOf?: (document: Document, node: SceneNode) => Buffer,
): Promise<WrittenDocument> {
  // Loaded when something is written: the list of writers is also shown in the browser, which writes nothing.
  const library = await import('@gltf-transform/core');
  const { Document, WebIO } = library;
  const extensions = await import('@gltf-transform/extensions');
  const document = new Document();
  document.getRoot().getAsset().generator = 'Noble Prism';
  const buffer = document.createBuffer();
  document.getRoot().setDefaultScene(document.createScene(options.title ?? name));
  const materials = new GltfMaterials(document, scene, blobs, extensions, options);
  const variants = new GltfVariants(document, extensions, materials);
  const { compression, spool = memorySpool } = options;
  // What is packed, or refers to other files, is kept until it is written.
  const streamed = compression || bufferOf ? undefined : new StreamedGeometry(document, buffer, spool, library);

  // (1) Geometry once per mesh and pivot, meshes once per geometry and lists of materials.
  const geometries = new Map<string, Geometry>();
  const meshes = new Map<string, GltfMesh>();
  const meshFor = async (node: SceneNode, hash: string): Promise<GltfMesh> => {
    const shape = geometryKey(node);
    let geometry = geometries.get(shape);
    if (!geometry) {
      const make = streamed ?? keptGeometry(document, bufferOf?.(document, node) ?? buffer);
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
  const io = new NodesIO().registerExtensions([...extensions.ALL_EXTENSIONS, ...(streamed ? [streamed.extension as never] : [])]); // prettier-ignore
  if (compression) io.registerDependencies(await pack(document, extensions, compression));
  return { document, io, buffer, streamed };
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
      .setXMag((camera.height / 2) * (camera.aspect ?? 1))
      .setYMag(camera.height / 2)
      .setZNear(Math.max(0, camera.near))
      .setZFar(Math.max(camera.far, camera.near * 2));
  if (camera) {
    made.setType('perspective').setYFov(camera.fov).setZNear(Math.max(camera.near, 1e-4));
    if (camera.aspect !== undefined) made.setAspectRatio(camera.aspect);
    if (camera.far !== undefined && camera.far > camera.near) made.setZFar(camera.far);
  }
  return made;
}
