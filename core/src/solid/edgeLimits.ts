/**
 * Limits on the length of edges: long ones are divided at their middle, short ones joined by collapse. Both act on the point in
 * space, so that the faces on both sides of a border change together and no crack opens.
 */
import { boundsOf } from '../mesh/mesh.ts';
import { SNAP_SHARE, snapPositions } from '../mesh/weld.ts';
import type { FacesMesh } from './faces.ts';

/** A limit that would make more triangles of one solid is kept only until here. */
const MOST_TRIANGLES = 2_000_000;
/** The plane of a triangle must not turn by more than this when a neighbouring edge is joined: cosine of 60 degrees. */
const TURN = 0.5;

/** Divides edges until none is longer. @param most millimetres */
export function splitLongEdges(mesh: FacesMesh, most: number): FacesMesh {
  let now = mesh;
  while (now.triangles.length / 3 < MOST_TRIANGLES) {
    const points = pointsOf(now);
    const long = longEdges(now, points, most);
    if (long.size === 0) break;
    now = divided(now, points, long);
  }
  return now;
}

function longEdges({ positions, triangles }: FacesMesh, points: Uint32Array, most: number): Set<number> {
  const count = positions.length / 3;
  const long = new Set<number>();
  for (let i = 0; i < triangles.length; i++) {
    const [a, b] = [triangles[i], triangles[i % 3 === 2 ? i - 2 : i + 1]];
    if (lengthBetween(positions, a, b) > most) long.add(edgeKey(points[a], points[b], count));
  }
  return long;
}

/** Where a new vertex of a face is put, and which way it looks: from its parameters; halfway between its neighbours where absent. */
export type Placed = (face: number, u: number, v: number) => readonly [x: number, y: number, z: number];

/**
 * Each triangle becomes two, three or four, by how many of its edges are divided.
 * @param points number per vertex, equal for all on one point
 * @param long keys of the edges to divide, see `edgeKey`
 */
export function divided(mesh: FacesMesh, points: Uint32Array, long: ReadonlySet<number>, placed?: Placed): FacesMesh {
  const { firstVertex, firstIndex, triangles } = mesh;
  const count = mesh.positions.length / 3;
  const out = new Vertices(mesh);
  const indices: number[] = [];
  const newFirstIndex = new Uint32Array(firstIndex.length);
  const newFirstVertex = new Uint32Array(firstVertex.length);
  for (let f = 0; f + 1 < firstIndex.length; f++) {
    newFirstVertex[f] = out.count;
    newFirstIndex[f] = indices.length;
    const shift = out.copy(firstVertex[f], firstVertex[f + 1]);
    const middles = new Map<number, number>();
    const middle = (a: number, b: number): number => {
      if (!long.has(edgeKey(points[a], points[b], count))) return -1;
      const key = edgeKey(a, b, count);
      let found = middles.get(key);
      if (found === undefined) middles.set(key, (found = out.between(a, b, placed && ((u, v) => placed(f, u, v)))));
      return found;
    };
    for (let i = firstIndex[f]; i < firstIndex[f + 1]; i += 3) {
      const corners = [triangles[i], triangles[i + 1], triangles[i + 2]];
      const halves = corners.map((corner, k) => middle(corner, corners[(k + 1) % 3]));
      const [a, b, c] = corners.map((corner) => corner + shift);
      pushParts(indices, [a, b, c], halves);
    }
  }
  newFirstVertex[firstVertex.length - 1] = out.count;
  newFirstIndex[firstIndex.length - 1] = indices.length;
  return {
    ...out.lists(),
    triangles: Uint32Array.from(indices),
    firstVertex: newFirstVertex,
    firstIndex: newFirstIndex,
  };
}

/** @param halves middle of the edges ab, bc and ca, or -1 where they stay whole */
function pushParts(out: number[], [a, b, c]: number[], [ab, bc, ca]: number[]): void {
  const cut = [ab, bc, ca].filter((half) => half >= 0).length;
  if (cut === 0) out.push(a, b, c);
  else if (cut === 3) out.push(a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca);
  else if (cut === 1) {
    // Turned so that the edge ab is the one that is cut.
    if (bc >= 0) pushParts(out, [b, c, a], [bc, ca, ab]);
    else if (ca >= 0) pushParts(out, [c, a, b], [ca, ab, bc]);
    else out.push(a, ab, c, ab, b, c);
  } else {
    // Turned so that the edge ca is the one that stays whole.
    if (ab < 0) pushParts(out, [b, c, a], [bc, ca, ab]);
    else if (bc < 0) pushParts(out, [c, a, b], [ca, ab, bc]);
    else out.push(a, ab, c, ab, b, bc, ab, bc, c);
  }
}

/** The growing lists of vertices while faces are copied and edges divided. */
class Vertices {
  readonly #positions: number[] = [];
  readonly #normals: number[] = [];
  readonly #parameters: number[] = [];
  constructor(readonly mesh: FacesMesh) {}

  get count(): number {
    return this.#positions.length / 3;
  }

  /** Copies the vertices of a face; returns by how much their numbers moved. */
  copy(first: number, end: number): number {
    const shift = this.count - first;
    for (let vertex = first; vertex < end; vertex++) this.#add(vertex, vertex);
    return shift;
  }

  /** A vertex halfway between two of the old ones, or where its parameters put it. */
  between(a: number, b: number, placed?: (u: number, v: number) => readonly [number, number, number]): number {
    this.#add(a, b);
    const last = this.count - 1;
    if (placed)
      this.#positions.splice(last * 3, 3, ...placed(this.#parameters[last * 2], this.#parameters[last * 2 + 1]));
    return last;
  }

  #add(a: number, b: number): void {
    const { positions, normals, parameters } = this.mesh;
    for (let k = 0; k < 3; k++) {
      this.#positions.push((positions[a * 3 + k] + positions[b * 3 + k]) / 2);
      this.#normals.push((normals[a * 3 + k] + normals[b * 3 + k]) / 2);
    }
    if (parameters)
      for (let k = 0; k < 2; k++) this.#parameters.push((parameters[a * 2 + k] + parameters[b * 2 + k]) / 2);
  }

  lists(): Pick<FacesMesh, 'positions' | 'normals' | 'parameters'> {
    return {
      positions: Float32Array.from(this.#positions),
      normals: Float32Array.from(this.#normals),
      ...(this.mesh.parameters ? { parameters: Float64Array.from(this.#parameters) } : {}),
    };
  }
}

/**
 * Joins edges that are shorter, shortest first, where no triangle turns over and the surface stays closed. Points where three
 * faces meet stay where they are; points of a border move along it only.
 * @param least millimetres
 */
export function collapseShortEdges(mesh: FacesMesh, least: number): FacesMesh {
  const collapser = new Collapser(mesh);
  let changed = true;
  while (changed) changed = collapser.pass(least);
  return collapser.result();
}

class Collapser {
  readonly #points: Uint32Array;
  readonly #triangles: Uint32Array;
  /** Triangles round each point; entries of triangles that are gone are skipped. */
  readonly #around: number[][];
  readonly #gone: Uint8Array;

  constructor(readonly mesh: FacesMesh) {
    this.#points = pointsOf(mesh);
    this.#triangles = mesh.triangles.slice();
    this.#gone = new Uint8Array(mesh.triangles.length / 3);
    this.#around = Array.from({ length: mesh.positions.length / 3 }, () => []);
    for (let t = 0; t < this.#gone.length; t++) {
      const corners = this.#corners(t).map((vertex) => this.#points[vertex]);
      // What has no area already is not part of the surface.
      if (new Set(corners).size < 3) this.#gone[t] = 1;
      else for (const point of corners) this.#around[point].push(t);
    }
  }

  /** Tries every short edge once. True where some were joined. */
  pass(least: number): boolean {
    const short: { a: number; b: number; length: number }[] = [];
    for (let t = 0; t < this.#gone.length; t++) {
      if (this.#gone[t]) continue;
      const corners = this.#corners(t);
      for (let k = 0; k < 3; k++) {
        const [a, b] = [this.#points[corners[k]], this.#points[corners[(k + 1) % 3]]];
        const length = lengthBetween(this.mesh.positions, a, b);
        if (length < least) short.push({ a, b, length });
      }
    }
    short.sort((x, y) => x.length - y.length || x.a - y.a || x.b - y.b);
    let joined = false;
    for (const { a, b } of short) joined = this.#join(a, b, least) || this.#join(b, a, least) || joined;
    return joined;
  }

  result(): FacesMesh {
    const { firstIndex } = this.mesh;
    const kept: number[] = [];
    const newFirst = new Uint32Array(firstIndex.length);
    for (let f = 0; f + 1 < firstIndex.length; f++) {
      newFirst[f] = kept.length;
      for (let t = firstIndex[f] / 3; t < firstIndex[f + 1] / 3; t++)
        if (!this.#gone[t]) kept.push(...this.#corners(t));
    }
    newFirst[firstIndex.length - 1] = kept.length;
    return withoutUnused({ ...this.mesh, triangles: Uint32Array.from(kept), firstIndex: newFirst });
  }

  #corners(t: number): [number, number, number] {
    return [this.#triangles[t * 3], this.#triangles[t * 3 + 1], this.#triangles[t * 3 + 2]];
  }

  #neighbours(point: number): Set<number> {
    const found = new Set<number>();
    for (const t of this.#around[point]) {
      if (this.#gone[t]) continue;
      for (const vertex of this.#corners(t)) found.add(this.#points[vertex]);
    }
    found.delete(point);
    return found;
  }

  /** Moves the point `from` onto its neighbour `to`. False where it may not. */
  #join(from: number, to: number, least: number): boolean {
    const open = this.#around[from].filter((t) => !this.#gone[t]);
    const between = open.filter((t) => this.#corners(t).some((vertex) => this.#points[vertex] === to));
    if (between.length !== 2) return false;
    // Each copy of the vertex, one per face, goes to the copy of the other that it shares an edge with.
    const onto = new Map<number, number>();
    for (const t of between) {
      const corners = this.#corners(t);
      const a = corners.find((vertex) => this.#points[vertex] === from);
      const b = corners.find((vertex) => this.#points[vertex] === to);
      if (a === undefined || b === undefined || (onto.has(a) && onto.get(a) !== b)) return false;
      onto.set(a, b);
    }
    const moving = open.filter((t) => !between.includes(t));
    for (const t of moving)
      if (!this.#corners(t).every((vertex) => this.#points[vertex] !== from || onto.has(vertex))) return false;
    // Two closed fans may be joined only where they share nothing but the two triangles between (link condition).
    const others = this.#neighbours(to);
    let shared = 0;
    for (const point of this.#neighbours(from)) if (others.has(point)) shared++;
    if (shared !== 2 || moving.some((t) => this.#turnsOver(t, from, to) || this.#stretches(t, from, to, least)))
      return false;
    for (const t of between) this.#gone[t] = 1;
    for (const t of moving) {
      for (let k = 0; k < 3; k++) {
        const next = onto.get(this.#triangles[t * 3 + k]);
        if (next !== undefined) this.#triangles[t * 3 + k] = next;
      }
      this.#around[to].push(t);
    }
    this.#around[from] = [];
    return true;
  }

  /** Whether an edge would become longer than twice the limit and than it was: many small steps must not make one large one. */
  #stretches(t: number, from: number, to: number, least: number): boolean {
    const { positions } = this.mesh;
    return this.#corners(t).some((vertex) => {
      const point = this.#points[vertex];
      if (point === from) return false;
      return lengthBetween(positions, to, point) > Math.max(2 * least, lengthBetween(positions, from, point));
    });
  }

  #turnsOver(t: number, from: number, to: number): boolean {
    const points = this.#corners(t).map((vertex) => this.#points[vertex]);
    const before = normalOf(this.mesh.positions, points);
    const after = normalOf(
      this.mesh.positions,
      points.map((point) => (point === from ? to : point)),
    );
    const lengths = Math.hypot(...before) * Math.hypot(...after);
    return !(before[0] * after[0] + before[1] * after[1] + before[2] * after[2] > TURN * lengths);
  }
}

function normalOf(p: Float32Array, [a, b, c]: number[]): [number, number, number] {
  const [ux, uy, uz] = [p[b * 3] - p[a * 3], p[b * 3 + 1] - p[a * 3 + 1], p[b * 3 + 2] - p[a * 3 + 2]];
  const [vx, vy, vz] = [p[c * 3] - p[a * 3], p[c * 3 + 1] - p[a * 3 + 1], p[c * 3 + 2] - p[a * 3 + 2]];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
}

/** Leaves out vertices that no triangle uses. */
function withoutUnused(mesh: FacesMesh): FacesMesh {
  const used = new Uint8Array(mesh.positions.length / 3);
  for (const vertex of mesh.triangles) used[vertex] = 1;
  const out = new Vertices(mesh);
  const now = new Uint32Array(used.length);
  const firstVertex = new Uint32Array(mesh.firstVertex.length);
  for (let f = 0; f + 1 < firstVertex.length; f++) {
    firstVertex[f] = out.count;
    for (let vertex = mesh.firstVertex[f]; vertex < mesh.firstVertex[f + 1]; vertex++)
      if (used[vertex]) now[vertex] = out.between(vertex, vertex);
  }
  firstVertex[firstVertex.length - 1] = out.count;
  return { ...mesh, ...out.lists(), firstVertex, triangles: mesh.triangles.map((vertex) => now[vertex]) };
}

/** Number per vertex, equal for all on one point in space. */
export function pointsOf({ positions }: FacesMesh): Uint32Array {
  const { min, max } = boundsOf(positions);
  const diagonal = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  return snapPositions(positions, diagonal * SNAP_SHARE).point;
}

function lengthBetween(p: Float32Array, a: number, b: number): number {
  return Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
}

/** Key of an edge between two points of a mesh with so many vertices. */
export function edgeKey(a: number, b: number, count: number): number {
  return Math.min(a, b) * count + Math.max(a, b);
}
