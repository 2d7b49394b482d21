/**
 * Writes a scene as binary glTF 2.0 (ISO/IEC 12113): metres, +Y up. Names, hierarchy, pivots and shared geometry are kept:
 * parts that show the same mesh refer to the same accessors.
 */
import type { Accessor, Document, Material as GltfMaterial, Mesh as GltfMesh, Node } from '@gltf-transform/core';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { isIdentity } from '../scene/matrix.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import type { Material, Scene, SceneNode } from '../scene/types.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import type { Writer } from './writer.ts';

export const glbWriter: Writer = {
  target: 'glb',
  title: 'Binary glTF 2.0',
  ending: 'glb',
  mime: 'model/gltf-binary',
  write: writeGlb,
};

/** @returns the bytes of the file */
export async function writeGlb(scene: Scene, blobs: BlobStore, name: string): Promise<Uint8Array> {
  // Loaded when something is written: the list of writers is also shown in the browser, which writes nothing.
  const { Document, WebIO } = await import('@gltf-transform/core');
  const document = new Document();
  document.getRoot().getAsset().generator = 'Noble Prism';
  const buffer = document.createBuffer();
  const gltfScene = document.createScene(name);
  document.getRoot().setDefaultScene(gltfScene);

  const materials = new Map<string, GltfMaterial>();
  const materialFor = (id: string): GltfMaterial => {
    let made = materials.get(id);
    if (!made) materials.set(id, (made = writeMaterial(document, scene.materials[id] ?? NO_MATERIAL)));
    return made;
  };

  // (1) Geometry once per mesh and pivot, meshes once per geometry and list of materials.
  const geometries = new Map<string, Primitive[]>();
  const meshes = new Map<string, GltfMesh>();
  const meshFor = async (node: SceneNode, hash: string): Promise<GltfMesh> => {
    const geometryKey = `${hash} ${node.offset?.join(' ') ?? ''}`;
    let geometry = geometries.get(geometryKey);
    if (!geometry) {
      const make = (array: Float32Array | Uint16Array | Uint32Array, type: 'VEC3' | 'SCALAR') =>
        document
          .createAccessor()
          .setArray(array as never)
          .setType(type)
          .setBuffer(buffer);
      geometry = writeGeometry(unpackMesh(await blobs.get(hash)), node, make);
      geometries.set(geometryKey, geometry);
    }
    const ids = geometry.map(({ slot }) => materialOfSlot(node, slot));
    const key = `${geometryKey} ${ids.join(' ')}`;
    let mesh = meshes.get(key);
    if (!mesh) {
      mesh = document.createMesh(node.name);
      for (const [i, { position, normal, indices }] of geometry.entries()) {
        mesh.addPrimitive(
          document
            .createPrimitive()
            .setAttribute('POSITION', position)
            .setAttribute('NORMAL', normal)
            .setIndices(indices)
            .setMaterial(materialFor(ids[i])),
        );
      }
      meshes.set(key, mesh);
    }
    return mesh;
  };

  // (2) Nodes in document order, so that a parent is there before its children.
  const nodes = new Map<number, Node>();
  for (const node of scene.nodes) {
    const made = document.createNode(node.name);
    if (!isIdentity(node.transform, 0)) made.setMatrix([...node.transform] as never);
    made.setExtras({
      key: node.key,
      ...(node.layer === null ? {} : { layer: node.layer }),
      ...(node.occurrence ? { occurrence: node.occurrence } : {}),
    });
    if (node.mesh) made.setMesh(await meshFor(node, node.mesh));
    nodes.set(node.id, made);
    const parent = node.parent === null ? undefined : nodes.get(node.parent);
    if (parent) parent.addChild(made);
    else gltfScene.addChild(made);
  }
  return new WebIO().writeBinary(document);
}

interface Primitive {
  slot: number;
  position: Accessor;
  normal: Accessor;
  indices: Accessor;
}

function writeGeometry(
  mesh: Mesh,
  node: SceneNode,
  make: (array: Float32Array | Uint16Array | Uint32Array, type: 'VEC3' | 'SCALAR') => Accessor,
): Primitive[] {
  const [x, y, z] = node.offset ?? [0, 0, 0];
  const shift = [x, y, z];
  const position = make(node.offset ? mesh.positions.map((value, i) => value + shift[i % 3]) : mesh.positions, 'VEC3');
  const normal = make(mesh.normals, 'VEC3');
  const small = mesh.positions.length / 3 <= 65535;
  return mesh.groups.map(({ slot, start, count }) => {
    const part = mesh.indices.subarray(start, start + count);
    return { slot, position, normal, indices: make(small ? Uint16Array.from(part) : part.slice(), 'SCALAR') };
  });
}

function writeMaterial(document: Document, material: Material): GltfMaterial {
  return document
    .createMaterial(material.name)
    .setBaseColorFactor([...material.baseColor, material.opacity])
    .setMetallicFactor(material.metallic)
    .setRoughnessFactor(material.roughness)
    .setAlphaMode(material.opacity < 1 ? 'BLEND' : 'OPAQUE');
}
