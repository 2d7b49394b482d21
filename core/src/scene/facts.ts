/**
 * What follows from a scene and is asked for by many: children, places in the world, take-off, triangles below each row, keys. Each is
 * made when it is first asked for, once per scene; what a step leaves as it was is taken over from the scene before.
 */
import { likenessOf } from './likeness.ts';
import type { Likeness } from './likeness.ts';
import type { Matrix } from './matrix.ts';
import { GONE, PART } from './nodes.ts';
import type { NodeTable } from './nodes.ts';
import { matrixAt, multiplyAt, STRIDE } from './places.ts';
import { enlargementsOf, longestSidesOf, stretchesOf } from './stretch.ts';
import type { TakeOff } from './takeoff.ts';
import { takeOffOf } from './takeoff.ts';
import type { Scene } from './types.ts';

/** Rows below each row, in document order: those of row r stand in `list` from `start[r + 1]` to `start[r + 2]`; the roots are of row -1. */
export interface Children {
  start: Int32Array;
  list: Int32Array;
}

export class SceneFacts {
  #children: Children | undefined;
  #order: Int32Array | undefined;
  #worlds: Float64Array | undefined;
  #stretches: Float64Array | undefined;
  #enlargements: Float64Array | undefined;
  #longest: Float64Array | undefined;
  /** Places in the world of a few rows, as long as nobody asked for all. */
  #someWorlds = new Map<number, Float64Array>();
  #drawn: number | undefined;
  #triangles: Float64Array | undefined;
  #meshTriangles: Float64Array | undefined;
  #takeOff: TakeOff | undefined;
  #likeness: Likeness | undefined;
  #keyTable: KeyTable | undefined;
  readonly #words = new Map<'mesh' | 'layer' | 'class' | 'source' | 'source', readonly string[]>();

  constructor(
    readonly scene: Scene,
    readonly nodes: NodeTable,
  ) {}

  /** Takes over from the facts of another scene what is the same in this one. */
  inherit(other: SceneFacts): void {
    const [a, b] = [this.nodes.columns, other.nodes.columns];
    for (const [column, words] of other.#words)
      if (a.kind === b.kind && a[column] === b[column]) this.#words.set(column, words);
    const sameTree = a.parent === b.parent && a.kind === b.kind;
    if (sameTree) {
      this.#children ??= other.#children;
      this.#order ??= other.#order;
      if (a.place === b.place) {
        this.#worlds ??= other.#worlds;
        if (a.offset === b.offset) {
          this.#stretches ??= other.#stretches;
          this.#enlargements ??= other.#enlargements;
          const { meshes, solids } = other.scene;
          if (a.mesh === b.mesh && a.solid === b.solid && this.scene.meshes === meshes && this.scene.solids === solids)
            this.#longest ??= other.#longest;
        }
      }
      if (
        a.mesh === b.mesh &&
        a.solid === b.solid &&
        a.name === b.name &&
        a.layer === b.layer &&
        a.materials === b.materials
      )
        this.#likeness ??= other.#likeness;
      if (a.mesh === b.mesh && this.scene.meshes === other.scene.meshes) {
        this.#triangles ??= other.#triangles;
        this.#drawn ??= other.#drawn;
        if (a.materials === b.materials && a.layer === b.layer) this.#takeOff ??= other.#takeOff;
      }
    }
    if (a.origin === b.origin && a.segment === b.segment && a.ordinal === b.ordinal) this.#keyTable ??= other.#keyTable;
  }

  /** Takes what was found out elsewhere. */
  know({ takeOff, likeness }: { takeOff?: TakeOff; likeness?: Likeness }): void {
    this.#takeOff ??= takeOff;
    this.#likeness ??= likeness;
  }

  /**
   * Follows upon the facts of a scene that is not asked any more: its places in the world are taken over, and those that are others
   * entered.
   */
  succeed(other: SceneFacts, moved: MovedWorlds | undefined): void {
    this.inherit(other);
    if (moved && !moved.rows) this.#worlds = moved.values;
    if (this.#worlds || !other.#worlds || this.nodes.rows !== other.nodes.rows) return;
    this.#worlds = other.#worlds;
    other.#worlds = undefined;
    moved?.rows?.forEach((row, i) =>
      this.#worlds?.set(moved.values.subarray(i * STRIDE, i * STRIDE + STRIDE), row * STRIDE),
    );
  }

  get children(): Children {
    if (this.#children) return this.#children;
    const { parent, kind } = this.nodes.columns;
    const { rows } = this.nodes;
    const start = new Int32Array(rows + 2);
    for (let row = 0; row < rows; row++) if (kind[row] !== GONE) start[parent[row] + 2]++;
    for (let row = 1; row < start.length; row++) start[row] += start[row - 1];
    const list = new Int32Array(start[rows + 1]);
    const next = start.slice();
    for (let row = 0; row < rows; row++) if (kind[row] !== GONE) list[next[parent[row] + 1]++] = row;
    return (this.#children = { start, list });
  }

  /** Children of a row, or the roots. */
  childrenOf(row: number | null): Int32Array {
    const { start, list } = this.children;
    const at = (row ?? -1) + 1;
    return list.subarray(start[at], start[at + 1]);
  }

  /** All rows that are there, parents before their children. */
  get order(): Int32Array {
    if (this.#order) return this.#order;
    const { parent, kind } = this.nodes.columns;
    const { rows } = this.nodes;
    const out = new Int32Array(this.nodes.length);
    let at = 0;
    let isSorted = true;
    for (let row = 0; row < rows; row++) {
      if (kind[row] === GONE) continue;
      if (parent[row] >= row) isSorted = false;
      out[at++] = row;
    }
    if (!isSorted) {
      // Rows that were added later hold earlier ones: level by level.
      const { start, list } = this.children;
      at = 0;
      for (const root of this.childrenOf(null)) out[at++] = root;
      for (let done = 0; done < at; done++)
        for (let i = start[out[done] + 1]; i < start[out[done] + 2]; i++) out[at++] = list[i];
    }
    return (this.#order = isSorted ? out : out.subarray(0, at));
  }

  /** Place of each row in the world, {@link STRIDE} numbers each, metres. */
  get worlds(): Float64Array {
    return (this.#worlds ??= worldsOf(this.nodes, this.order));
  }

  /** How much larger the geometry of each row stands in the world than it is by itself, in the direction of the largest stretch. */
  get stretches(): Float64Array {
    return (this.#stretches ??= stretchesOf(this.nodes, this.worlds));
  }

  /** How much larger the geometry of each row stands than it is, over all directions, in six digits: what pictures lie by. */
  get enlargements(): Float64Array {
    return (this.#enlargements ??= enlargementsOf(this.nodes, this.worlds));
  }

  /** Longest side of each row as it stands, along the axes of its geometry, metres; -1 where it has none. */
  get longest(): Float64Array {
    return (this.#longest ??= longestSidesOf(this.scene, this.worlds));
  }

  /** Place of one row. Who asks for few has the places of few made. */
  world(row: number): Matrix {
    if (this.#worlds || this.#someWorlds.size > this.nodes.rows / FEW) return matrixAt(this.worlds, row * STRIDE);
    const { parent } = this.nodes.columns;
    const chain: number[] = [];
    for (let above = row; above >= 0 && !this.#someWorlds.has(above); above = parent[above]) chain.push(above);
    for (let next = chain.pop(); next !== undefined; next = chain.pop()) {
      const made = new Float64Array(STRIDE);
      putWorld(this.nodes, next, this.#someWorlds.get(parent[next]), 0, made, 0);
      this.#someWorlds.set(next, made);
    }
    return matrixAt(this.#someWorlds.get(row) as Float64Array, 0);
  }

  /** Triangles of each mesh by the number of its word. */
  get meshTriangles(): Float64Array {
    if (this.#meshTriangles) return this.#meshTriangles;
    const { words } = this.nodes.tables;
    const out = new Float64Array(words.length);
    for (const [hash, { triangles }] of Object.entries(this.scene.meshes)) {
      const word = words.find(hash);
      if (word >= 0) out[word] = triangles;
    }
    return (this.#meshTriangles = out);
  }

  /** Triangles drawn: every placement counts. */
  get drawnTriangles(): number {
    if (this.#drawn !== undefined) return this.#drawn;
    const { mesh, kind } = this.nodes.columns;
    const { meshTriangles } = this;
    let sum = 0;
    for (let row = 0; row < mesh.length; row++) if (kind[row] === PART) sum += meshTriangles[mesh[row]];
    return (this.#drawn = sum);
  }

  /** Triangles drawn at and below each row. */
  get triangles(): Float64Array {
    if (this.#triangles) return this.#triangles;
    const { mesh, parent } = this.nodes.columns;
    const { order, meshTriangles } = this;
    const out = new Float64Array(this.nodes.rows);
    for (let i = order.length - 1; i >= 0; i--) {
      const row = order[i];
      out[row] += meshTriangles[mesh[row]];
      if (parent[row] >= 0) out[parent[row]] += out[row];
    }
    return (this.#triangles = out);
  }

  /** Numbers that tell equal branches. */
  get likeness(): Likeness {
    return (this.#likeness ??= likenessOf(this.nodes, this.order));
  }

  /** Words that some row has in a column, each once, in the order of the rows. */
  wordsIn(column: 'mesh' | 'layer' | 'class' | 'source'): readonly string[] {
    let known = this.#words.get(column);
    if (known) return known;
    const { kind, [column]: numbers } = this.nodes.columns;
    const { words } = this.nodes.tables;
    const seen = new Uint8Array(words.length);
    const out: string[] = [];
    seen[0] = 1;
    for (let row = 0; row < numbers.length; row++) {
      if (seen[numbers[row]] === 1 || kind[row] === GONE) continue;
      seen[numbers[row]] = 1;
      out.push(words.get(numbers[row]));
    }
    this.#words.set(column, (known = out));
    return known;
  }

  get takeOff(): TakeOff {
    return (this.#takeOff ??= takeOffOf(this.scene));
  }

  /** The row with a key; undefined where there is none. */
  rowOf(key: string): number | undefined {
    const found = this.#rowCalled(key);
    // A path alone, as people write it, is that of the first source that has it; what a step made begins with a plus.
    if (found !== undefined || !/^[/+]/.test(key)) return found;
    for (const source of this.wordsIn('source')) {
      const row = this.#rowCalled(`${source}:${key}`);
      if (row !== undefined) return row;
    }
    return undefined;
  }

  #rowCalled(key: string): number | undefined {
    const { kind } = this.nodes.columns;
    const { heads, next } = this.#byKey();
    for (let row = heads[hashOfKey(key) & (heads.length - 1)]; row >= 0; row = next[row])
      if (kind[row] !== GONE && this.nodes.key(row) === key) return row;
    return undefined;
  }

  /** Rows by the hash of their key, made of the hashes of its parts, so that no key has to be written out. */
  #byKey(): KeyTable {
    if (this.#keyTable) return this.#keyTable;
    const { origin, segment, ordinal } = this.nodes.columns;
    const { texts } = this.nodes.tables;
    const { rows } = this.nodes;
    const heads = new Int32Array(2 ** Math.ceil(Math.log2(rows + 2))).fill(-1);
    const next = new Int32Array(rows);
    const hashes = new Int32Array(rows);
    for (let row = 0; row < rows; row++) {
      let hash = origin[row] < 0 ? FNV : hashedOn(hashes[origin[row]], '/');
      hash = hashedOn(hash, texts.get(segment[row]));
      if (ordinal[row] > 1) hash = hashedOn(hash, `#${ordinal[row]}`);
      hashes[row] = hash;
      next[row] = heads[hash & (heads.length - 1)];
      heads[hash & (heads.length - 1)] = row;
    }
    return (this.#keyTable = { heads, next });
  }
}

/** Chains of rows with the same last bits of the hash of their key. */
interface KeyTable {
  heads: Int32Array;
  next: Int32Array;
}

/** FNV-1a, 32 bits: the hash of a path goes on from that of the path above it. */
const FNV = 0x811c9dc5 | 0;
const PRIME = 0x01000193;

function hashedOn(hash: number, text: string): number {
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), PRIME);
  return hash;
}

const hashOfKey = (key: string) => hashedOn(FNV, key);

function worldsOf(nodes: NodeTable, order: Int32Array): Float64Array {
  const { parent } = nodes.columns;
  const out = new Float64Array(nodes.rows * STRIDE);
  for (const row of order) {
    const above = parent[row];
    putWorld(nodes, row, above < 0 ? undefined : out, above * STRIDE, out, row * STRIDE);
  }
  return out;
}

/** Writes the place of a row in the world, of that of the row above it, which stands in `worlds` at `above`; none for a root. */
function putWorld(
  nodes: NodeTable,
  row: number,
  worlds: Float64Array | undefined,
  above: number,
  out: Float64Array,
  to: number,
): void {
  const place = nodes.columns.place[row];
  const { values, at } = nodes.tables.places.locate(place);
  if (!worlds) for (let i = 0; i < STRIDE; i++) out[to + i] = values[at + i];
  else if (place === 0) for (let i = 0; i < STRIDE; i++) out[to + i] = worlds[above + i];
  else multiplyAt(worlds, above, values, at, out, to);
}

/** Places in the world that are others than before: of some rows, or of all where no rows are named. */
export interface MovedWorlds {
  rows?: Int32Array;
  values: Float64Array;
}

/** One row in so many whose place is asked for is few; from there on the places of all are made at once. */
const FEW = 16;

/** A share of rows from which on all places are taken. */
const MOST = 0.3;

/** What is different between places in the world; undefined where nothing is. The arrays can be given away. */
export function movedBetween(before: Float64Array, after: Float64Array): MovedWorlds | undefined {
  if (before === after) return undefined;
  if (before.length !== after.length) return { values: after.slice() };
  const rows: number[] = [];
  const most = (after.length / STRIDE) * MOST;
  for (let row = 0, at = 0; at < after.length; row++, at += STRIDE) {
    let i = 0;
    while (i < STRIDE && before[at + i] === after[at + i]) i++;
    if (i < STRIDE && rows.push(row) > most) return { values: after.slice() };
  }
  if (rows.length === 0) return undefined;
  const values = new Float64Array(rows.length * STRIDE);
  rows.forEach((row, i) => values.set(after.subarray(row * STRIDE, row * STRIDE + STRIDE), i * STRIDE));
  return { rows: Int32Array.from(rows), values };
}

const known = new WeakMap<Scene, SceneFacts>();

export function factsOf(scene: Scene): SceneFacts {
  let facts = known.get(scene);
  if (!facts) known.set(scene, (facts = new SceneFacts(scene, scene.nodes)));
  return facts;
}

/** The take-off of a scene, made once. */
export function takeOff(scene: Scene): TakeOff {
  return factsOf(scene).takeOff;
}
