/**
 * The one way to change a scene: an editor takes what is to be different, row by row, and gives the scene after it and the change
 * itself. Where nothing became different it gives the very same scene.
 */
import type { Link } from '../linkage/links.ts';
import { changeBetween, changedRows, isNoChange } from './change.ts';
import type { SceneChange, SceneTables } from './change.ts';
import type { Matrix } from './matrix.ts';
import { COLUMN_NAMES, COLUMNS, GONE, kindNumber, MADE, NodeTable } from './nodes.ts';
import type { ColumnName, Extras } from './nodes.ts';
import type { NewRow } from './nodeWriter.ts';
import type { SceneOrigin } from './origin.ts';
import { multiplyAt, putMatrix, STRIDE } from './places.ts';
import type { NameMaker, Texts } from './texts.ts';
import type {
  AnimationInfo,
  Material,
  MeshFigures,
  NodeKind,
  Scene,
  SceneNode,
  SolidInfo,
  SourceInfo,
  Texture,
} from './types.ts';
import { NumberList } from '../mesh/numberList.ts';

export class SceneEditor {
  readonly #nodes: NodeTable;
  readonly #columns: Record<ColumnName, Int32Array>;
  /** Columns that were written, and are no longer those of the scene. */
  readonly #own = new Set<ColumnName>();
  /** Of these, those in which rows that there were have another value. */
  readonly #written = new Set<ColumnName>();
  /** The texts so far, but for those that were added last. */
  #table: Texts;
  #texts: string[] = [];
  readonly #textNumbers = new Map<string, number>();
  readonly #words: string[] = [];
  readonly #wordNumbers = new Map<string, number>();
  readonly #lists: number[][] = [];
  readonly #listNumbers = new Map<string, number>();
  readonly #places = new NumberList(Float64Array);
  readonly #extras: Extras[] = [];
  readonly #tables: Partial<SceneTables> = {};
  readonly #added: (NewRow & { key: string; flags?: number })[] = [];

  constructor(readonly scene: Scene) {
    this.#nodes = scene.nodes;
    this.#columns = { ...scene.nodes.columns };
    this.#table = scene.nodes.tables.texts;
  }

  rename(row: number, name: string): void {
    const { columns } = this.#nodes;
    const isReceived = this.#nodes.text('received', row) === name;
    this.#write('name', row, isReceived ? columns.received[row] : this.#text(name));
  }

  /**
   * Enters names that are made of older ones, and looks for them among no others: for those who give many rows new names.
   * @param of number of the older name that each is made of
   * @returns the number of the first
   */
  newNames(of: Int32Array, make: NameMaker): number {
    const table = this.#table.with(this.#texts);
    this.#texts = [];
    this.#table = table.derived(of, make);
    return table.length;
  }

  setName(row: number, number: number): void {
    this.#write('name', row, number);
  }

  setMesh(row: number, mesh: string | undefined): void {
    this.#write('mesh', row, mesh === undefined ? 0 : this.#word(mesh));
  }

  setSolid(row: number, solid: string): void {
    this.#write('solid', row, this.#word(solid));
  }

  setLayer(row: number, layer: string | null): void {
    this.#write('layer', row, layer === null ? 0 : this.#word(layer));
  }

  /** Hangs a row under another one, or under none; its place is then in that one. Its key stays. */
  setParent(row: number, parent: number | null): void {
    this.#write('parent', row, parent ?? -1);
  }

  /** Sets or takes away one of the flags of `nodes.ts`. */
  setFlag(row: number, flag: number, on: boolean): void {
    const now = this.#columns.flags[row];
    this.#write('flags', row, on ? now | flag : now & ~flag);
  }

  setKind(row: number, kind: NodeKind): void {
    this.#write('kind', row, kindNumber(kind));
  }

  setProblem(row: number, problem: string): void {
    this.#write('problem', row, this.#text(problem));
  }

  /** @param materials ids, one for each slot */
  setMaterials(row: number, materials: readonly string[]): void {
    this.#write('materials', row, this.listOf(materials));
  }

  /** Number of a list of materials: for those who give the same list to many rows. */
  listOf(texts: readonly string[]): number {
    const list = texts.map((text) => this.#word(text));
    const known = this.#nodes.tables.lists.find(list);
    if (known >= 0) return known;
    const key = list.join();
    let number = this.#listNumbers.get(key);
    if (number === undefined) {
      number = this.#nodes.tables.lists.length + this.#lists.push(list) - 1;
      this.#listNumbers.set(key, number);
    }
    return number;
  }

  setMaterialList(row: number, list: number): void {
    this.#write('materials', row, list);
  }

  /** Place in the parent, metres. */
  setTransform(row: number, matrix: Matrix): void {
    this.#write('place', row, this.#place(matrix));
  }

  /**
   * Puts a row that does not move by itself elsewhere: what is done before its own place, as twelve numbers. For those who put many.
   * @returns false for a row that moves: see `putElsewhere`
   */
  placeBefore(row: number, before: Float64Array): boolean {
    const { tables } = this.#nodes;
    const extras = this.#columns.extras[row];
    if (extras >= tables.extras.length || tables.extras[extras].motion) return false;
    const number = this.#columns.place[row];
    const own = number - tables.places.length;
    const { values, at } = own < 0 ? tables.places.locate(number) : { values: this.#places.values, at: own * STRIDE };
    multiplyAt(before, 0, values, at, TWELVE, 0);
    // Adding zero turns -0 into 0, so that equal placements are equal to the bit.
    for (let i = 0; i < STRIDE; i++) TWELVE[i] += 0;
    const isRest = TWELVE.every((value, i) => value === IDENTITY_TWELVE[i]);
    this.#write('place', row, isRest ? 0 : tables.places.length + this.#places.length / STRIDE);
    if (!isRest) this.#places.pushAll(TWELVE);
    return true;
  }

  /** Where the geometry sits from the pivot, metres. */
  setOffset(row: number, offset: Matrix): void {
    this.#write('offset', row, this.#place(offset));
  }

  setExtras(row: number, extras: Extras): void {
    const known = this.#columns.extras[row];
    const before = this.#nodes.tables.extras.length;
    const now = known >= before ? this.#extras[known - before] : this.#nodes.tables.extras[known];
    this.#write('extras', row, before + this.#extras.push({ ...now, ...extras }) - 1);
  }

  /** Takes a row away; what is below it has to be taken away too. */
  remove(row: number): void {
    this.#write('kind', row, GONE);
  }

  /** What a row is now, with what was written of its place and its movement. */
  placed(row: number): Pick<SceneNode, 'transform' | 'offset' | 'motion'> {
    const { tables } = this.#nodes;
    const matrixOf = (number: number): Matrix =>
      number < tables.places.length ? tables.places.matrix(number) : this.#ownMatrix(number - tables.places.length);
    const offset = this.#columns.offset[row] === 0 ? undefined : matrixOf(this.#columns.offset[row]);
    const extras = this.#columns.extras[row];
    return {
      transform: matrixOf(this.#columns.place[row]),
      ...(offset ? { offset } : {}),
      motion: (extras < tables.extras.length ? tables.extras[extras] : this.#extras[extras - tables.extras.length])
        .motion,
    };
  }

  /** Enters meshes, materials and what else is beside the nodes; what is the same already is no change. */
  setMeshes(figures: Record<string, MeshFigures>): void {
    this.#enter('meshes', figures);
  }
  setSolids(solids: Record<string, SolidInfo>): void {
    this.#enter('solids', solids);
  }
  setMaterialsOfScene(materials: Record<string, Material>): void {
    this.#enter('materials', materials);
  }
  setTextures(textures: Record<string, Texture>): void {
    this.#enter('textures', textures);
  }
  setSources(sources: SourceInfo[]): void {
    if (sources.some((source, i) => source !== this.scene.sources[i])) this.#tables.sources = sources;
  }
  setOrigin(origin: SceneOrigin): void {
    this.#tables.origin = origin;
  }
  setLinks(links: readonly Link[]): void {
    this.#tables.links = links;
  }
  setAnimations(animations: Record<string, AnimationInfo>): void {
    this.#enter('animations', animations);
  }
  /** Where the origin lies, with what was written. */
  get origin(): SceneOrigin {
    return this.#tables.origin ?? this.scene.origin ?? {};
  }

  #enter<K extends 'meshes' | 'solids' | 'materials' | 'textures' | 'animations'>(
    name: K,
    entries: SceneTables[K],
  ): void {
    const known = (this.#tables[name] ?? this.scene[name]) as Record<string, unknown>;
    const fresh = Object.entries(entries).filter(([key, value]) => known[key] !== value);
    if (fresh.length > 0) this.#tables[name] = { ...known, ...Object.fromEntries(fresh) } as SceneTables[K];
  }

  /** True where nothing was written so far. */
  get isIdle(): boolean {
    return this.#own.size === 0 && this.#added.length === 0 && Object.keys(this.#tables).length === 0;
  }

  /** Adds a row at the end, with a key of its own that no row of a source has. Returns its number. */
  add({ parent = null, name, key, ...row }: NewRow & { key: string; flags?: number }): number {
    const at = this.#columns.kind.length + this.#added.length;
    this.#added.push({ parent, name, key, ...row });
    return at;
  }

  /** The scene after what was written, the change, and how many rows are different. */
  finish(): { scene: Scene; change: SceneChange; changed: number } {
    this.#enterAdded();
    const { words, lists, places, extras } = this.#nodes.tables;
    const nodes =
      this.#own.size === 0
        ? this.#nodes
        : new NodeTable(this.#columns, {
            texts: this.#table.with(this.#texts),
            words: words.with(this.#words),
            lists: lists.with(this.#lists),
            places: places.with(this.#places.copy()),
            extras: this.#extras.length > 0 ? [...extras, ...this.#extras] : extras,
          });
    const after = { ...this.scene, ...this.#tables, nodes };
    const change = changeBetween(this.scene, after, this.#written);
    return isNoChange(change)
      ? { scene: this.scene, change, changed: 0 }
      : { scene: after, change, changed: changedRows(change).size };
  }

  #enterAdded(): void {
    if (this.#added.length === 0) return;
    const before = this.#columns.kind.length;
    for (const name of COLUMN_NAMES) {
      const wider = new Int32Array(before + this.#added.length);
      wider.set(this.#columns[name]);
      if (COLUMNS[name] === 'row') wider.fill(-1, before);
      this.#columns[name] = wider;
      this.#own.add(name);
    }
    for (const [i, { parent, name, key, ...row }] of this.#added.entries()) {
      const at = before + i;
      const text = this.#text(name);
      this.#write('kind', at, kindNumber(row.kind));
      this.#write('parent', at, parent ?? -1);
      this.#write('name', at, text);
      this.#write('received', at, text);
      this.#write('segment', at, this.#text(key));
      this.#write('ordinal', at, 1);
      this.#write('source', at, this.#word(row.source ?? ''));
      this.#write('flags', at, MADE | (row.flags ?? 0));
      if (row.transform) this.setTransform(at, row.transform);
      if (row.layer) this.setLayer(at, row.layer);
      if (row.mesh) this.setMesh(at, row.mesh);
      if (row.materials) this.setMaterials(at, row.materials);
      if (row.offset) this.setOffset(at, row.offset);
    }
  }

  #write(column: ColumnName, row: number, value: number): void {
    if (this.#columns[column][row] === value) return;
    if (row < this.#nodes.rows) this.#written.add(column);
    if (!this.#own.has(column)) {
      this.#own.add(column);
      this.#columns[column] = this.#columns[column].slice();
    }
    this.#columns[column][row] = value;
  }

  #text(text: string): number {
    if (text === '') return 0;
    let number = this.#textNumbers.get(text);
    if (number === undefined) {
      number = this.#table.length + this.#texts.push(text) - 1;
      this.#textNumbers.set(text, number);
    }
    return number;
  }

  #word(word: string): number {
    const known = this.#nodes.tables.words.find(word);
    if (known >= 0) return known;
    let number = this.#wordNumbers.get(word);
    if (number === undefined) {
      number = this.#nodes.tables.words.length + this.#words.push(word) - 1;
      this.#wordNumbers.set(word, number);
    }
    return number;
  }

  #place(matrix: Matrix): number {
    const twelve = new Array<number>(STRIDE);
    putMatrix(matrix, twelve, 0);
    if (twelve.every((value, i) => value === IDENTITY_TWELVE[i])) return 0;
    const number = this.#nodes.tables.places.length + this.#places.length / STRIDE;
    for (const value of twelve) this.#places.push(value);
    return number;
  }

  #ownMatrix(index: number): Matrix {
    const v = (i: number) => this.#places.at(index * STRIDE + i);
    return [v(0), v(1), v(2), 0, v(3), v(4), v(5), 0, v(6), v(7), v(8), 0, v(9), v(10), v(11), 1];
  }
}

const IDENTITY_TWELVE = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];
/** A place that is being made. */
const TWELVE = new Float64Array(STRIDE);
