/**
 * Draws parts in batches: all placements of one mesh with the same materials are one instanced draw, so that the number of
 * draw calls follows the meshes and materials, not the parts.
 */
import { Group, InstancedBufferAttribute, InstancedMesh, LineBasicMaterial, LineSegments, Points } from 'three';
import type { Color, Material, Object3D } from 'three';
import { GONE } from '@noble-prism/core/scene/nodes';
import { multiplyAt, STRIDE } from '@noble-prism/core/scene/places';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import type { GeometryStore, ViewGeometry } from './geometry.ts';

export interface BatchInput {
  scene: Scene;
  /** Rows that are drawn, as far as their geometry has arrived. */
  rows: RowSet;
  /** Places in the world, as the facts of a scene have them. */
  worlds: Float64Array;
  geometry: GeometryStore;
  /** Material of a slot, by id. */
  materialFor(id: string, geometry: ViewGeometry): Material;
  /** Material of dots, for clouds of points. */
  points(geometry: ViewGeometry): Material;
  /** Colour of a whole part, where the look gives one. */
  tint?(row: number): Color;
  edges: LineBasicMaterial | undefined;
  /** Whether parts throw and take shadows, where there are any; they do where nothing is said. */
  shadows?: boolean;
  /** Only batches of these meshes are made; the others stay as they are. */
  only?: ReadonlySet<string>;
}

interface Batch {
  key: string;
  geometry: ViewGeometry;
  materials: string[];
  rows: Int32Array;
}

/** What was drawn for a batch: kept with its buffers for as long as the same number of parts shows the same. */
interface Drawn {
  geometry: ViewGeometry;
  objects: Object3D[];
  matrices: InstancedBufferAttribute;
  rows: Int32Array;
}

const drawnIn = new WeakMap<Group, Map<string, Drawn>>();

/**
 * Fills a group with one object per batch; parts whose geometry has not arrived are left out. Batches that were drawn in the group
 * before keep their objects, and their buffers go to the graphics card only where a place has changed.
 */
export function makeBatches(input: BatchInput, group = new Group()): Group {
  const before = drawnIn.get(group) ?? new Map<string, Drawn>();
  const now = new Map<string, Drawn>(input.only ? before : []);
  const fresh: Object3D[] = [];
  group.matrixAutoUpdate = false;
  for (const batch of gathered(input)) {
    const known = before.get(batch.key);
    let drawn = known;
    if (known && known.geometry === batch.geometry && known.matrices.count === batch.rows.length) {
      known.rows = batch.rows;
      place(known.matrices, batch.rows, input);
    } else {
      const matrices = new InstancedBufferAttribute(new Float32Array(batch.rows.length * 16), 16);
      place(matrices, batch.rows, input);
      drawn = { geometry: batch.geometry, objects: objectsFor(batch, input, matrices), matrices, rows: batch.rows };
      fresh.push(...drawn.objects);
    }
    for (const object of (drawn as Drawn).objects) {
      if (!(object instanceof InstancedMesh)) continue;
      object.material = batch.materials.map((id) => input.materialFor(id, batch.geometry));
      if (input.tint) paint(object, batch.rows, input.tint);
    }
    now.set(batch.key, drawn as Drawn);
  }
  const isAdded = input.only && [...now].every(([key, drawn]) => (before.get(key) ?? drawn) === drawn);
  for (const [key, { objects }] of before)
    if (now.get(key)?.objects !== objects) for (const object of objects) drop(object);
  if (isAdded) {
    if (fresh.length > 0) group.add(...fresh);
  } else {
    group.clear();
    // One by one each would be looked for among all the others.
    for (const { objects } of now.values()) for (const object of objects) group.add(object);
  }
  drawnIn.set(group, now);
  return group;
}

/** Parts that are drawn together. The key also says how: with edges or without, in a colour of each part or of materials. */
function gathered({ scene, rows, geometry: store, tint, edges, only }: BatchInput): Batch[] {
  const { nodes } = scene;
  const { mesh, materials, kind } = nodes.columns;
  const { words, lists } = nodes.tables;
  /** Geometry by the number of a mesh; null where it has not arrived. */
  const geometries: (ViewGeometry | null)[] = [];
  const numbers = new Map<number, number>();
  const counts: number[] = [];
  const firsts: number[] = [];
  const batchOf = new Int32Array(nodes.rows).fill(-1);
  for (let row = 0; row < nodes.rows; row++) {
    const word = mesh[row];
    if (word === 0 || kind[row] === GONE || !rows.has(row)) continue;
    let geometry = geometries[word];
    if (geometry === undefined) {
      const hash = words.get(word);
      geometry = geometries[word] = only && !only.has(hash) ? null : (store.get(hash) ?? null);
    }
    if (geometry === null) continue;
    const pair = word * lists.length + (tint ? 0 : materials[row]);
    let number = numbers.get(pair);
    if (number === undefined) {
      numbers.set(pair, (number = counts.length));
      counts.push(0);
      firsts.push(row);
    }
    counts[number]++;
    batchOf[row] = number;
  }
  const members = counts.map((count) => new Int32Array(count));
  const filled = new Int32Array(counts.length);
  for (let row = 0; row < batchOf.length; row++) {
    const number = batchOf[row];
    if (number >= 0) members[number][filled[number]++] = row;
  }
  // Lists that differ in slots that the geometry has not are drawn together.
  const batches = new Map<string, Batch>();
  for (const [number, row] of firsts.entries()) {
    const geometry = geometries[mesh[row]] as ViewGeometry;
    const ids = lists.get(materials[row]);
    const used = geometry.slots.map((slot) => {
      const id = ids[slot] ?? ids[0];
      return id === undefined ? 'none' : words.get(id);
    });
    const key = `${words.get(mesh[row])} ${tint ? 'tinted' : used.join(' ')} ${edges?.uuid ?? ''}`;
    const known = batches.get(key);
    if (known) known.rows = Int32Array.of(...known.rows, ...members[number]).sort();
    else batches.set(key, { key, geometry, materials: used, rows: members[number] });
  }
  return [...batches.values()];
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

/** Moves what was drawn to other places, without making it anew. @param moved rows that stand elsewhere; all are looked at where absent */
export function placeBatches(group: Group, input: Pick<BatchInput, 'scene' | 'worlds'>, moved?: RowSet): void {
  for (const { matrices, rows } of drawnIn.get(group)?.values() ?? []) place(matrices, rows, input, moved);
}

/** Enters places where they differ; what goes to the graphics card is the stretch from the first that does to the last. */
function place(
  attribute: InstancedBufferAttribute,
  rows: Int32Array,
  { scene, worlds }: Pick<BatchInput, 'scene' | 'worlds'>,
  moved?: RowSet,
): void {
  const { offset, kind } = scene.nodes.columns;
  const array = attribute.array as Float32Array;
  let first = Infinity;
  let last = -1;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i];
    // Rows that are no longer there are still drawn, until the batches are made anew.
    if ((moved && !moved.has(row)) || kind[row] === GONE || row >= kind.length) continue;
    const isDifferent =
      offset[row] === 0
        ? putWorld(worlds, row * STRIDE, array, i * 16)
        : putWorld(withOffset(scene, worlds, row), 0, array, i * 16);
    if (!isDifferent) continue;
    if (i < first) first = i;
    last = i;
  }
  if (last < 0) return;
  if (attribute.version > 0) attribute.addUpdateRange(first * 16, (last - first + 1) * 16);
  attribute.needsUpdate = true;
}

const placed = new Float64Array(STRIDE);

/** Place of a geometry that does not sit at the pivot of its part. */
function withOffset({ nodes }: Scene, worlds: Float64Array, row: number): Float64Array {
  const { values, at } = nodes.tables.places.locate(nodes.columns.offset[row]);
  multiplyAt(worlds, row * STRIDE, values, at, placed, 0);
  return placed;
}

/** Writes twelve numbers as a matrix of sixteen. Returns whether any is another. */
function putWorld(from: Float64Array, at: number, to: Float32Array, index: number): boolean {
  let isDifferent = false;
  for (let column = 0; column < 4; column++)
    for (let i = 0; i < 3; i++) {
      const value = Math.fround(from[at + column * 3 + i]);
      const place = index + column * 4 + i;
      if (to[place] === value) continue;
      to[place] = value;
      isDifferent = true;
    }
  to[index + 15] = 1;
  return isDifferent;
}

function paint(object: InstancedMesh, rows: Int32Array, tint: (row: number) => Color): void {
  object.instanceColor ??= new InstancedBufferAttribute(new Float32Array(rows.length * 3), 3);
  for (let i = 0; i < rows.length; i++) tint(rows[i]).toArray(object.instanceColor.array, i * 3);
  object.instanceColor.needsUpdate = true;
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
