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
  Sphere,
} from 'three';
import type { Color, Material, Mesh, Object3D } from 'three';
import { hasBack } from '@noble-prism/core/scene/fromBehind';
import { GONE } from '@noble-prism/core/scene/nodes';
import { Rows } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { canJoin, crowdsOf, isLate, joined, placesOf } from './crowds.ts';
import type { Crowd, Member } from './crowds.ts';
import type { GeometryStore, ViewGeometry } from './geometry.ts';
import { Placements } from './placements.ts';
import type { Placing } from './placements.ts';

export interface BatchInput extends Placing {
  /** Rows that are drawn, as far as their geometry has arrived. */
  rows: RowSet;
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
  /** Parts that are placed once are drawn together. Not where each has a colour of its own, or moves by itself. */
  crowds?: boolean;
  /** Only batches of these meshes are made; the others stay as they are. */
  only?: ReadonlySet<string>;
}

interface Batch {
  key: string;
  geometry: ViewGeometry;
  materials: string[];
  rows: Int32Array;
}

/** What was drawn for a batch: kept with its buffers for as long as about as many parts show the same. */
interface Drawn {
  geometry: ViewGeometry;
  /** Of a crowd: where its members stood when they were written together, and their geometries. */
  joined?: { places: Float64Array; members: readonly Member[] };
  objects: Object3D[];
  /** Of a batch: where its parts stand. */
  placements?: Placements;
}

const drawnIn = new WeakMap<Group, Map<string, Drawn>>();

/** Fills a group at once: see {@link batchWork}. */
export function makeBatches(input: BatchInput, group = new Group()): Group {
  const work = batchWork(input, group);
  while (!work.next().done);
  return group;
}

/**
 * Fills a group with one object per batch; parts whose geometry has not arrived are left out. Batches that were drawn in the group
 * before keep their objects, and their buffers go to the graphics card only where a place has changed. Stops after each batch, so that
 * whoever works through it can let others have their turn; nothing may be drawn in between.
 */
export function* batchWork(input: BatchInput, group: Group): Generator<void> {
  const before = drawnIn.get(group) ?? new Map<string, Drawn>();
  const now = new Map<string, Drawn>(input.only ? before : []);
  const fresh: Object3D[] = [];
  group.matrixAutoUpdate = false;
  const { batches, crowds } = yield* apart(yield* gathered(input), input);
  yield;
  for (const crowd of crowds) {
    const drawn = crowdDrawn(crowd, before.get(crowd.key), input);
    if (before.get(crowd.key) !== drawn) fresh.push(...drawn.objects);
    now.set(crowd.key, drawn);
    yield;
  }
  for (const batch of batches) {
    const known = before.get(batch.key);
    let drawn = known;
    if (!known?.placements || known.geometry !== batch.geometry || !known.placements.take(batch.rows, input)) {
      const placements = new Placements(batch.rows, input);
      drawn = { geometry: batch.geometry, objects: objectsFor(batch, input, placements.matrices), placements };
      fresh.push(...drawn.objects);
    }
    const { objects, placements } = drawn as Drawn;
    for (const object of objects) {
      (object as InstancedMesh).count = batch.rows.length;
      if (!(object instanceof InstancedMesh)) continue;
      object.material = batch.materials.map((id) => input.materialFor(id, batch.geometry));
      if (input.tint && placements) paint(object, placements, input.tint);
    }
    now.set(batch.key, drawn as Drawn);
    if (batch.rows.length > 200) yield;
  }
  const isAdded = input.only && [...now].every(([key, drawn]) => (before.get(key) ?? drawn) === drawn);
  for (const [key, { objects }] of before) {
    if (now.get(key)?.objects === objects) continue;
    for (const object of objects) drop(object);
    yield;
  }
  if (isAdded) {
    if (fresh.length > 0) group.add(...fresh);
  } else {
    group.clear();
    // One by one each would be looked for among all the others.
    for (const { objects } of now.values()) for (const object of objects) group.add(object);
  }
  drawnIn.set(group, now);
}

/**
 * Parts that are placed once are drawn in crowds, where that is wished for. What arrives later makes crowds of its own, until all is
 * gathered anew: one object for each would have to be made, and taken away again, which costs more the more there are.
 */
function* apart(
  all: Batch[],
  { crowds, only, edges }: BatchInput,
): Generator<void, { batches: Batch[]; crowds: Crowd[] }> {
  if (!crowds) return { batches: all, crowds: [] };
  const batches: Batch[] = [];
  const singles: (Member & { material: string })[] = [];
  for (const [i, batch] of all.entries()) {
    if (i % SHAPES === SHAPES - 1) yield;
    const { rows, geometry, materials } = batch;
    if (rows.length === 1 && materials.length === 1 && canJoin(geometry))
      singles.push({ row: rows[0], geometry, material: materials[0] });
    else batches.push(batch);
  }
  return { batches, crowds: yield* crowdsOf(singles, edges?.uuid ?? '', only ? 'late' : 'neighbours') };
}

/** A crowd as it is drawn: as before, where the same members stand where they stood. */
function crowdDrawn(crowd: Crowd, known: Drawn | undefined, input: BatchInput): Drawn {
  const places = placesOf(crowd, input.scene, input.worlds);
  const drawn = known?.joined && isAsBefore(known.joined, crowd, places) ? known : crowdAnew(crowd, places, input);
  for (const object of drawn.objects)
    if (object instanceof InstancedMesh) object.material = [input.materialFor(crowd.material, drawn.geometry)];
  return drawn;
}

function isAsBefore(
  { members, places: before }: NonNullable<Drawn['joined']>,
  crowd: Crowd,
  places: Float64Array,
): boolean {
  return (
    members.length === crowd.members.length &&
    members.every(({ row, geometry }, i) => row === crowd.members[i].row && geometry === crowd.members[i].geometry) &&
    before.every((value, i) => value === places[i])
  );
}

function crowdAnew(crowd: Crowd, places: Float64Array, input: BatchInput): Drawn {
  const { key, material, members } = crowd;
  const geometry = joined(crowd, places);
  const matrices = new InstancedBufferAttribute(new Float32Array(16), 16);
  new Matrix4().makeTranslation(places[9], places[10], places[11]).toArray(matrices.array);
  const rows = Int32Array.from(members, ({ row }) => row);
  const objects = objectsFor({ key, geometry, materials: [material], rows }, input, matrices);
  // What was written together belongs to the crowd alone.
  for (const object of objects) object.userData.ownsGeometry = true;
  return { geometry, joined: { places, members }, objects };
}

/** Crowds of a group whose members are together only because they arrived together. */
export function lateCrowdsIn(group: Group): number {
  let count = 0;
  for (const key of drawnIn.get(group)?.keys() ?? []) if (isLate(key)) count++;
  return count;
}

/** What the batches of a scene depend on, and those that were found: most steps leave them as they are. */
interface Gathered {
  of: readonly unknown[];
  batches: Batch[];
}
const latest = new WeakMap<GeometryStore, Map<string, Gathered>>();

/** {@link gatheredAnew}, once for the same rows, meshes and materials. */
function* gathered(input: BatchInput): Generator<void, Batch[]> {
  const { scene, rows, geometry, tint, edges, only } = input;
  if (rows.size === 0) return [];
  if (only) return yield* gatheredAnew(input);
  const { mesh, materials, kind } = scene.nodes.columns;
  const of = [mesh, materials, kind, rows, geometry.arrivals, scene.nodes.tables.words, scene.nodes.tables.lists];
  const which = `${tint !== undefined} ${edges?.uuid ?? ''}`;
  let kept = latest.get(geometry);
  if (!kept) latest.set(geometry, (kept = new Map()));
  const known = kept.get(which);
  if (known && known.of.every((one, i) => one === of[i])) return known.batches;
  const batches = yield* gatheredAnew(input);
  kept.set(which, { of, batches });
  return batches;
}

/** Rows after which others may have their turn, and shapes or batches, which take longer. */
const TURN = 10_000;
const SHAPES = 1000;

/** Parts that are drawn together. The key also says how: with edges or without, in a colour of each part or of materials. */
function* gatheredAnew({ scene, rows, geometry: store, tint, edges, only }: BatchInput): Generator<void, Batch[]> {
  const { nodes } = scene;
  const { mesh, materials, kind } = nodes.columns;
  const { words, lists } = nodes.tables;
  /** Geometry by the number of a mesh; null where it has not arrived. */
  const geometries: (ViewGeometry | null)[] = [];
  const mask = rows instanceof Rows ? rows.mask : undefined;
  const numbers = new Pairs(words.length, lists.length);
  const counts: number[] = [];
  const firsts: number[] = [];
  const batchOf = new Int32Array(nodes.rows).fill(-1);
  let shapes = 0;
  for (let row = 0; row < nodes.rows; row++) {
    if (row % TURN === TURN - 1) yield;
    const word = mesh[row];
    if (word === 0 || kind[row] === GONE || (mask ? mask[row] !== 1 : !rows.has(row))) continue;
    let geometry = geometries[word];
    if (geometry === undefined) {
      if (++shapes % SHAPES === 0) yield;
      const hash = words.get(word);
      geometry = geometries[word] = only && !only.has(hash) ? null : (store.get(hash) ?? null);
      const figures = scene.meshes[hash];
      if (geometry && figures) geometry.backs = hasBack(figures);
    }
    if (geometry === null) continue;
    const number = numbers.of(word, tint ? 0 : materials[row]);
    if (number === counts.length) {
      counts.push(0);
      firsts.push(row);
    }
    counts[number]++;
    batchOf[row] = number;
  }
  yield;
  const members = counts.map((count) => new Int32Array(count));
  const filled = new Int32Array(counts.length);
  for (let row = 0; row < batchOf.length; row++) {
    if (row % TURN === TURN - 1) yield;
    const number = batchOf[row];
    if (number >= 0) members[number][filled[number]++] = row;
  }
  // Lists that differ in slots that the geometry has not are drawn together.
  const batches = new Map<string, Batch>();
  for (const [number, row] of firsts.entries()) {
    if (number % SHAPES === SHAPES - 1) yield;
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

/** Numbers for pairs of numbers, from 0 in the order in which they come: in a table where that is not too large. */
class Pairs {
  readonly #table: Int32Array | undefined;
  readonly #map = new Map<number, number>();
  #count = 0;

  constructor(
    first: number,
    readonly second: number,
  ) {
    if (first * second <= 4_000_000) this.#table = new Int32Array(first * second).fill(-1);
  }

  of(first: number, second: number): number {
    const pair = first * this.second + second;
    const known = this.#table ? this.#table[pair] : (this.#map.get(pair) ?? -1);
    if (known >= 0) return known;
    if (this.#table) this.#table[pair] = this.#count;
    else this.#map.set(pair, this.#count);
    return this.#count++;
  }
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
  // Asked for by the order of what is seen through; three.js would go through all placements for it.
  mesh.boundingSphere = sphereOfFirst(geometry, matrices);
  mesh.castShadow = mesh.receiveShadow = input.shadows ?? true;
  return [mesh, ...(geometry.edges.getAttribute('position').count > 0 ? lines() : [])];
}

function sphereOfFirst({ surface }: ViewGeometry, { array }: InstancedBufferAttribute): Sphere {
  return (surface.boundingSphere ?? new Sphere()).clone().applyMatrix4(new Matrix4().fromArray(array));
}

/** Moves what was drawn to other places, without making it anew. */
export function placeBatches(group: Group, placing: Placing): void {
  for (const { placements } of drawnIn.get(group)?.values() ?? []) placements?.place(placing);
}

function paint(object: InstancedMesh, { rows, matrices }: Placements, tint: (row: number) => Color): void {
  object.instanceColor ??= new InstancedBufferAttribute(new Float32Array(matrices.count * 3), 3);
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
  if (object.userData.ownsGeometry) (object as Mesh).geometry.dispose();
}
