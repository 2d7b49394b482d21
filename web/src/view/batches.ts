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
  /** Whether parts throw and take shadows, where there are any; they do where nothing is said. */
  shadows?: boolean;
}

interface Batch {
  key: string;
  geometry: ViewGeometry;
  materials: string[];
  nodes: SceneNode[];
}

/** What was drawn for a batch: kept with its buffers for as long as the same number of parts shows the same. */
interface Drawn {
  geometry: ViewGeometry;
  objects: Object3D[];
  matrices: InstancedBufferAttribute;
}

const drawnIn = new WeakMap<Group, Map<string, Drawn>>();

/**
 * Fills a group with one object per batch; parts whose geometry has not arrived are left out. Batches that were drawn in the group
 * before keep their objects, and their buffers go to the graphics card only where a place has changed.
 */
export function makeBatches(input: BatchInput, group = new Group()): Group {
  const before = drawnIn.get(group) ?? new Map<string, Drawn>();
  const now = new Map<string, Drawn>();
  group.matrixAutoUpdate = false;
  for (const batch of gathered(input)) {
    const matrices = matricesOf(batch.nodes, input.worlds);
    const known = before.get(batch.key);
    const drawn =
      known?.geometry === batch.geometry && known.matrices.count === matrices.count
        ? known
        : { geometry: batch.geometry, objects: objectsFor(batch, input, matrices), matrices };
    if (drawn === known) update(drawn.matrices, matrices);
    for (const object of drawn.objects) {
      object.userData.nodes = batch.nodes;
      if (!(object instanceof InstancedMesh)) continue;
      object.material = batch.materials.map((id) => input.materialFor(id, batch.geometry));
      if (input.tint) batch.nodes.forEach((node, i) => object.setColorAt(i, input.tint!(node)));
      if (object.instanceColor) object.instanceColor.needsUpdate = true;
    }
    now.set(batch.key, drawn);
  }
  for (const [key, { objects }] of before)
    if (now.get(key)?.objects !== objects) for (const object of objects) drop(object);
  group.remove(...group.children);
  for (const { objects } of now.values()) if (objects.length > 0) group.add(...objects);
  drawnIn.set(group, now);
  return group;
}

/** Parts that are drawn together. The key also says how: with edges or without, in a colour of each part or of materials. */
function gathered({ nodes, geometry: store, tint, edges }: BatchInput): Iterable<Batch> {
  const batches = new Map<string, Batch>();
  for (const node of nodes) {
    const geometry = node.mesh ? store.get(node.mesh) : undefined;
    if (!geometry) continue;
    const materials = geometry.slots.map((slot) => materialOfSlot(node, slot));
    const key = `${node.mesh} ${tint ? 'tinted' : materials.join(' ')} ${edges?.uuid ?? ''}`;
    const batch = batches.get(key);
    if (batch) batch.nodes.push(node);
    else batches.set(key, { key, geometry, materials, nodes: [node] });
  }
  return batches.values();
}

function objectsFor({ geometry }: Batch, input: BatchInput, matrices: InstancedBufferAttribute): Object3D[] {
  const { edges, points } = input;
  if (geometry.shape === 'points') return [instanced(new Points(geometry.surface, points(geometry)), matrices)];
  const lines = () => (edges ? [instanced(new LineSegments(geometry.edges, edges), matrices)] : []);
  if (geometry.shape === 'lines') return lines();
  const mesh = new InstancedMesh(geometry.surface, [], 0);
  mesh.instanceMatrix = matrices;
  mesh.count = matrices.count;
  mesh.frustumCulled = false;
  mesh.castShadow = mesh.receiveShadow = input.shadows ?? true;
  return [mesh, ...(geometry.edges.getAttribute('position').count > 0 ? lines() : [])];
}

/** Takes over new places where any differs. */
function update(attribute: InstancedBufferAttribute, next: InstancedBufferAttribute): void {
  const [old, made] = [attribute.array, next.array];
  for (let i = 0; i < made.length; i++) {
    if (old[i] === made[i]) continue;
    attribute.copy(next);
    attribute.needsUpdate = true;
    return;
  }
}

/** Moves what was drawn to other places, without making it anew. */
export function placeBatches(group: Group, worlds: Map<number, Matrix>): void {
  const done = new Set<InstancedBufferAttribute>();
  for (const child of group.children) {
    const { instanceMatrix } = child as InstancedMesh;
    if (done.has(instanceMatrix)) continue;
    done.add(instanceMatrix);
    update(instanceMatrix, matricesOf(child.userData.nodes as SceneNode[], worlds, instanceMatrix));
  }
}

/** @param old places of parts that are no longer there and are still drawn, until the batches are made anew */
function matricesOf(
  nodes: readonly SceneNode[],
  worlds: Map<number, Matrix>,
  old?: InstancedBufferAttribute,
): InstancedBufferAttribute {
  const array = new Float32Array(nodes.length * 16);
  const matrix = new Matrix4();
  nodes.forEach((node, i) => {
    const world = worlds.get(node.id);
    if (world) matrix.fromArray(geometryTransform(node, world)).toArray(array, i * 16);
    else if (old) array.set(old.array.subarray(i * 16, i * 16 + 16), i * 16);
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
  for (const child of group.children) drop(child);
  group.clear();
  drawnIn.delete(group);
}

function drop(object: Object3D): void {
  if (object instanceof InstancedMesh) object.dispose();
}
