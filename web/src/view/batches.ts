/**
 * Draws parts in batches: all placements of one mesh with the same materials are one instanced draw, so that the number of
 * draw calls follows the meshes and materials, not the parts.
 */
import {
  Group,
  InstancedBufferAttribute,
  InstancedMesh,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Points,
} from 'three';
import type { Color, Material, Object3D } from 'three';
import { geometryTransform } from '@noble-prism/core/scene/tree';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { materialOfSlot } from '@noble-prism/core/scene/takeoff';
import type { SceneNode } from '@noble-prism/core/scene/types';
import type { GeometryStore, ViewGeometry } from './geometry.ts';

export interface BatchInput {
  nodes: readonly SceneNode[];
  worlds: Map<number, Matrix>;
  geometry: GeometryStore;
  /** Material of a slot, by id. */
  materialFor(id: string, geometry: ViewGeometry): Material;
  /** Material of dots, for clouds of points. */
  points(geometry: ViewGeometry): Material;
  /** Colour of a whole part, where the look gives one. */
  tint?(node: SceneNode): Color;
  edges: LineBasicMaterial | undefined;
}

interface Batch {
  geometry: ViewGeometry;
  materials: string[];
  nodes: SceneNode[];
}

/** A group with one object per batch; parts whose geometry has not arrived are left out. */
export function makeBatches(input: BatchInput): Group {
  const batches = new Map<string, Batch>();
  for (const node of input.nodes) {
    const geometry = node.mesh ? input.geometry.get(node.mesh) : undefined;
    if (!geometry) continue;
    const materials = geometry.slots.map((slot) => materialOfSlot(node, slot));
    const key = input.tint ? (node.mesh as string) : `${node.mesh} ${materials.join(' ')}`;
    const batch = batches.get(key);
    if (batch) batch.nodes.push(node);
    else batches.set(key, { geometry, materials, nodes: [node] });
  }
  const group = new Group();
  group.matrixAutoUpdate = false;
  for (const batch of batches.values()) {
    const matrices = matricesOf(batch.nodes, input.worlds);
    const placed = <T extends Object3D>(object: T): T => {
      object.userData.nodes = batch.nodes;
      return object;
    };
    if (batch.geometry.shape === 'points') {
      group.add(placed(instanced(new Points(batch.geometry.surface, input.points(batch.geometry)), matrices)));
      continue;
    }
    if (batch.geometry.shape === 'lines') {
      if (input.edges) group.add(placed(instanced(new LineSegments(batch.geometry.edges, input.edges), matrices)));
      continue;
    }
    const list = batch.materials.map((id) => input.materialFor(id, batch.geometry));
    const mesh = new InstancedMesh(batch.geometry.surface, list, 0);
    mesh.instanceMatrix = matrices;
    mesh.count = batch.nodes.length;
    mesh.frustumCulled = false;
    if (input.tint) batch.nodes.forEach((node, i) => mesh.setColorAt(i, input.tint!(node)));
    group.add(placed(mesh));
    if (input.edges && batch.geometry.edges.getAttribute('position').count > 0) {
      group.add(placed(instanced(new LineSegments(batch.geometry.edges, input.edges), matrices)));
    }
  }
  return group;
}

/** Moves what was drawn to other places, without making it anew. */
export function placeBatches(group: Group, worlds: Map<number, Matrix>): void {
  const done = new Set<InstancedBufferAttribute>();
  for (const child of group.children) {
    const { instanceMatrix } = child as InstancedMesh;
    if (done.has(instanceMatrix)) continue;
    done.add(instanceMatrix);
    instanceMatrix.copy(matricesOf(child.userData.nodes as SceneNode[], worlds));
    instanceMatrix.needsUpdate = true;
  }
}

function matricesOf(nodes: readonly SceneNode[], worlds: Map<number, Matrix>): InstancedBufferAttribute {
  const array = new Float32Array(nodes.length * 16);
  const matrix = new Matrix4();
  nodes.forEach((node, i) => {
    matrix.fromArray(geometryTransform(node, worlds.get(node.id) as Matrix));
    matrix.toArray(array, i * 16);
  });
  return new InstancedBufferAttribute(array, 16);
}

/** Lines or points drawn once per matrix. The renderer instances whatever says that it is an instanced mesh. */
function instanced<T extends LineSegments | Points>(object: T, matrices: InstancedBufferAttribute): T {
  Object.assign(object, {
    isInstancedMesh: true,
    instanceMatrix: matrices,
    instanceColor: null,
    morphTexture: null,
    count: matrices.count,
  });
  object.frustumCulled = false;
  return object;
}

/** Frees what the batches own; geometry and materials belong to others. */
export function disposeBatches(group: Group): void {
  for (const child of group.children) if (child instanceof InstancedMesh) child.dispose();
  group.clear();
}
