/**
 * The rows of a scene, kept in columns: a number for each row and property, and tables of texts, places and lists that the numbers point
 * to. A row keeps its number for good; one that is taken away is marked and passed over. Tables never change: an editor makes the next.
 */
import { Lists } from './lists.ts';
import type { Matrix } from './matrix.ts';
import { Places } from './places.ts';
import { Texts, Words } from './texts.ts';
import type { CameraInfo, LightInfo, Motion, NodeKind, SceneNode } from './node.ts';

/** What is rare, by reference. */
export interface Extras {
  variants?: Record<string, string[]>;
  camera?: CameraInfo;
  light?: LightInfo;
  motion?: Motion;
}

/** Kinds as they stand in the column; 0 is a row that was taken away. */
export const KINDS = ['gone', 'assembly', 'part', 'camera', 'light'] as const;
export const GONE = 0;
export const ASSEMBLY = 1;
export const PART = 2;
export const CAMERA = 3;
export const LIGHT = 4;
/** Bits of the column `flags`: lines that repeat a solid; rows that a step made; that are locked in their place; that are named points. */
export const SPARE = 1;
export const MADE = 2;
export const LOCKED = 4;
export const POINT = 8;
export const kindNumber = (kind: NodeKind): number => KINDS.indexOf(kind);

/** What the numbers of a column are: rows, numbers themselves, or numbers in one of the tables. */
export type ColumnOf = 'row' | 'number' | 'text' | 'word' | 'list' | 'place' | 'extra';

/** All columns, and what stands in them. In rows -1 stands for none, in the others 0. */
export const COLUMNS = {
  kind: 'number',
  /** {@link SPARE}, {@link MADE}, {@link LOCKED}, {@link POINT}. */
  flags: 'number',
  parent: 'row',
  name: 'text',
  /** The name as received; that of the row where nothing renamed it. */
  received: 'text',
  /** The key: parent in the source, last part of the path, ordinal among equals from 1. */
  origin: 'row',
  segment: 'text',
  ordinal: 'number',
  source: 'word',
  layer: 'word',
  class: 'word',
  mesh: 'word',
  solid: 'word',
  /** Words: a material for each slot. */
  materials: 'list',
  /** The materials as received; none for rows that a step added. */
  receivedMaterials: 'list',
  /** Words: name and value, one after the other. */
  properties: 'list',
  place: 'place',
  /** Where the geometry sits from the pivot, and how it is turned against it. */
  offset: 'place',
  occurrence: 'text',
  entity: 'text',
  problem: 'text',
  extras: 'extra',
} as const satisfies Record<string, ColumnOf>;

export type ColumnName = keyof typeof COLUMNS;
export const COLUMN_NAMES = Object.keys(COLUMNS) as ColumnName[];
export type Columns = Readonly<Record<ColumnName, Int32Array>>;

/** The tables that the columns point to. */
export interface Tables {
  texts: Texts;
  words: Words;
  lists: Lists;
  places: Places;
  extras: readonly Extras[];
}

export const NO_TABLES: Tables = {
  texts: Texts.NONE,
  words: Words.NONE,
  lists: Lists.NONE,
  places: Places.NONE,
  extras: [{}],
};

/** Rows that are there, by the column that tells. */
const lengths = new WeakMap<Int32Array, number>();

export class NodeTable implements Iterable<SceneNode> {
  /** Rows that there ever were: their numbers go from 0 to below this. */
  readonly rows: number;

  constructor(
    readonly columns: Columns,
    readonly tables: Tables,
  ) {
    this.rows = columns.kind.length;
  }

  /** Rows that are there. */
  get length(): number {
    const { kind } = this.columns;
    let length = lengths.get(kind);
    if (length !== undefined) return length;
    length = 0;
    for (let row = 0; row < kind.length; row++) if (kind[row] !== GONE) length++;
    lengths.set(kind, length);
    return length;
  }

  has(row: number): boolean {
    return row >= 0 && row < this.rows && this.columns.kind[row] !== GONE;
  }

  /** One row, to be looked at. */
  row(row: number): SceneNode {
    return new NodeView(this, row);
  }

  /** The row of that number among those that are there; undefined beyond the last. */
  at(index: number): SceneNode | undefined {
    const { kind } = this.columns;
    let left = index < 0 ? this.length + index : index;
    for (let row = 0; row < this.rows; row++) if (kind[row] !== GONE && left-- === 0) return this.row(row);
    return undefined;
  }

  *[Symbol.iterator](): Generator<SceneNode> {
    const { kind } = this.columns;
    for (let row = 0; row < this.rows; row++) if (kind[row] !== GONE) yield new NodeView(this, row);
  }

  map<T>(make: (node: SceneNode, index: number) => T): T[] {
    const out: T[] = [];
    for (const node of this) out.push(make(node, out.length));
    return out;
  }

  flatMap<T>(make: (node: SceneNode) => T | readonly T[]): T[] {
    const out: T[] = [];
    for (const node of this) {
      const made = make(node);
      if (Array.isArray(made)) for (const one of made as readonly T[]) out.push(one);
      else out.push(made as T);
    }
    return out;
  }

  filter(test: (node: SceneNode) => unknown): SceneNode[] {
    const out: SceneNode[] = [];
    for (const node of this) if (test(node)) out.push(node);
    return out;
  }

  find(test: (node: SceneNode) => unknown): SceneNode | undefined {
    for (const node of this) if (test(node)) return node;
    return undefined;
  }

  some(test: (node: SceneNode) => unknown): boolean {
    return this.find(test) !== undefined;
  }

  every(test: (node: SceneNode) => unknown): boolean {
    return !this.some((node) => !test(node));
  }

  text(column: 'name' | 'received' | 'segment' | 'occurrence' | 'entity' | 'problem', row: number): string {
    return this.tables.texts.get(this.columns[column][row]);
  }

  word(column: 'source' | 'layer' | 'class' | 'mesh' | 'solid', row: number): string {
    return this.tables.words.get(this.columns[column][row]);
  }

  place(row: number): Matrix {
    return this.tables.places.matrix(this.columns.place[row]);
  }

  /** The path of names in the source, with an ordinal among equals. */
  key(row: number): string {
    const { origin, ordinal } = this.columns;
    let out = '';
    for (let at = row; at >= 0; at = origin[at]) {
      const number = ordinal[at] > 1 ? `#${ordinal[at]}` : '';
      out = `${this.text('segment', at)}${number}${out === '' ? '' : `/${out}`}`;
    }
    return out;
  }

  static readonly EMPTY = new NodeTable(
    Object.fromEntries(COLUMN_NAMES.map((name) => [name, new Int32Array()])) as Record<ColumnName, Int32Array>,
    NO_TABLES,
  );
}

const NO_MATERIALS: string[] = [];

/** One row as an object: nothing is copied, each property is looked up when it is asked for. */
class NodeView implements SceneNode {
  readonly #table: NodeTable;

  constructor(
    table: NodeTable,
    readonly id: number,
  ) {
    this.#table = table;
  }

  #text(column: 'occurrence' | 'entity' | 'problem'): string | undefined {
    return this.#table.columns[column][this.id] === 0 ? undefined : this.#table.text(column, this.id);
  }

  #word(column: 'layer' | 'class' | 'mesh' | 'solid'): string | undefined {
    return this.#table.columns[column][this.id] === 0 ? undefined : this.#table.word(column, this.id);
  }

  get #extras(): Extras {
    return this.#table.tables.extras[this.#table.columns.extras[this.id]];
  }

  get key(): string {
    return this.#table.key(this.id);
  }
  get parent(): number | null {
    const parent = this.#table.columns.parent[this.id];
    return parent < 0 ? null : parent;
  }
  get name(): string {
    return this.#table.text('name', this.id);
  }
  get received(): string | undefined {
    const { name, received } = this.#table.columns;
    return name[this.id] === received[this.id] ? undefined : this.#table.text('received', this.id);
  }
  get kind(): NodeKind {
    return KINDS[this.#table.columns.kind[this.id]] as NodeKind;
  }
  get source(): string {
    return this.#table.word('source', this.id);
  }
  get transform(): Matrix {
    return this.#table.place(this.id);
  }
  get offset(): Matrix | undefined {
    const { columns, tables } = this.#table;
    const number = columns.offset[this.id];
    return number === 0 ? undefined : tables.places.matrix(number);
  }
  get solid(): string | undefined {
    return this.#word('solid');
  }
  get mesh(): string | undefined {
    return this.#word('mesh');
  }
  get materials(): string[] {
    const { columns, tables } = this.#table;
    const list = columns.materials[this.id];
    return list === 0 ? NO_MATERIALS : tables.lists.get(list).map((word) => tables.words.get(word));
  }
  get variants(): Record<string, string[]> | undefined {
    return this.#extras.variants;
  }
  get layer(): string | null {
    return this.#word('layer') ?? null;
  }
  get occurrence(): string | undefined {
    return this.#text('occurrence');
  }
  get class(): string | undefined {
    return this.#word('class');
  }
  get properties(): Record<string, string> | undefined {
    const { columns, tables } = this.#table;
    const number = columns.properties[this.id];
    if (number === 0) return undefined;
    const list = tables.lists.get(number);
    const out: Record<string, string> = {};
    for (let i = 0; i < list.length; i += 2) out[tables.words.get(list[i])] = tables.words.get(list[i + 1]);
    return out;
  }
  get camera(): CameraInfo | undefined {
    return this.#extras.camera;
  }
  get light(): LightInfo | undefined {
    return this.#extras.light;
  }
  get motion(): Motion | undefined {
    return this.#extras.motion;
  }
  get entity(): string | undefined {
    return this.#text('entity');
  }
  get spare(): true | undefined {
    return (this.#table.columns.flags[this.id] & SPARE) !== 0 ? true : undefined;
  }
  get problem(): string | undefined {
    return this.#text('problem');
  }
}

/** A row as a plain object, with what it has only. */
export function plainNode(node: SceneNode): SceneNode {
  const out: Record<string, unknown> = {};
  for (const name of PLAIN) {
    const value = node[name];
    if (value !== undefined) out[name] = value;
  }
  return out as unknown as SceneNode;
}

const PLAIN: readonly (keyof SceneNode)[] = [
  'id', 'key', 'parent', 'name', 'received', 'kind', 'source', 'transform', 'offset', 'solid', 'mesh', 'materials', 'variants',
  'layer', 'occurrence', 'class', 'properties', 'camera', 'light', 'motion', 'entity', 'spare', 'problem',
]; // prettier-ignore
