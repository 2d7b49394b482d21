/** Writes a table of nodes row by row: for readers, which know one row after the other. Parents come before their children. */
import { NumberList } from '../mesh/numberList.ts';
import { Lists } from './lists.ts';
import { IDENTITY } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import { COLUMN_NAMES, COLUMNS, kindNumber, NodeTable, SPARE } from './nodes.ts';
import type { ColumnName, Extras } from './nodes.ts';
import { matrixAt, Places, STRIDE } from './places.ts';
import { Texts, Words } from './texts.ts';
import type { NodeKind, SceneNode } from './types.ts';

type Said<T> = { [K in keyof T]?: T[K] | undefined };

/** One row as a reader knows it. Its key is the path of names; `key` says another one. What is undefined is not said. */
export interface NewRow extends Said<Omit<SceneNode, 'id' | 'key' | 'parent' | 'kind' | 'name'>> {
  parent?: number | null;
  name: string;
  kind: NodeKind;
  key?: string;
}

/** Longest part of a key. */
const LONGEST = 200;

export class NodeWriter {
  readonly #columns = Object.fromEntries(COLUMN_NAMES.map((name) => [name, new NumberList(Int32Array)])) as Record<
    ColumnName,
    NumberList<Int32Array>
  >;
  /** The same, with what stands in them where nothing is said. */
  readonly #blank = COLUMN_NAMES.map((name) => ({
    list: this.#columns[name],
    value: COLUMNS[name] === 'row' ? -1 : 0,
  }));
  readonly #texts = new Interned<string>(['']);
  readonly #words = new Interned<string>(['']);
  /** Numbers of lists: by that of the only word, or by all of them. */
  readonly #lists = new Map<number | string, number>([['', 0]]);
  readonly #listValues: number[][] = [[]];
  readonly #places = new NumberList(Float64Array);
  readonly #extras: Extras[] = [{}];
  /** How often each name was under each parent: `parent name` to the latest ordinal. */
  readonly #ordinals = new Map<number, Map<number, number>>();
  #keys: Map<number, string> | undefined;
  rows = 0;

  constructor(readonly source = '') {
    this.#place(IDENTITY, true);
  }

  /** @returns the number of the row */
  add(row: NewRow): number {
    const at = this.rows++;
    for (const { list, value } of this.#blank) list.push(value);
    const parent = row.parent ?? -1;
    this.#set('parent', at, parent);
    this.#set('kind', at, kindNumber(row.kind));
    const name = this.#texts.number(row.name);
    this.#set('name', at, name);
    this.#set('received', at, row.received === undefined ? name : this.#texts.number(row.received));
    if (row.key === undefined) this.#path(at, parent, row.name, name);
    else this.#givenPath(at, parent, row.key);
    this.#set('source', at, this.#words.number(row.source ?? this.source));
    this.change(at, row);
    return at;
  }

  /** Says something of a row, or says it anew; parent, name and key stay. */
  change(at: number, row: Said<NewRow>): void {
    if (row.kind) this.#set('kind', at, kindNumber(row.kind));
    if (row.layer !== undefined) this.#set('layer', at, row.layer === null ? 0 : this.#words.number(row.layer));
    for (const name of ['class', 'mesh', 'solid'] as const)
      if (row[name] !== undefined) this.#set(name, at, this.#words.number(row[name]));
    for (const name of ['occurrence', 'entity', 'problem'] as const)
      if (row[name] !== undefined) this.#set(name, at, this.#texts.number(row[name]));
    if (row.materials) this.#set('materials', at, this.#list(row.materials));
    if (row.properties) this.#set('properties', at, this.#list(Object.entries(row.properties).flat()));
    if (row.spare) this.#set('flags', at, SPARE);
    if (row.transform) this.#set('place', at, this.#place(row.transform));
    if (row.offset) this.#set('offset', at, this.#place(row.offset));
    const { variants, camera, light, motion } = row;
    if (variants || camera || light || motion) {
      const known = this.#columns.extras.at(at);
      const extras = { ...this.#extras[known], ...(variants ? { variants } : {}), ...(camera ? { camera } : {}), ...(light ? { light } : {}), ...(motion ? { motion } : {}) }; // prettier-ignore
      if (known > 0) this.#extras[known] = extras;
      else this.#set('extras', at, this.#extras.push(extras) - 1);
    }
  }

  parentOf(row: number): number | null {
    const parent = this.#columns.parent.at(row);
    return parent < 0 ? null : parent;
  }

  /** Its place, metres. */
  placeOf(row: number): Matrix {
    return matrixAt(this.#places.values, this.#columns.place.at(row) * STRIDE);
  }

  nameOf(row: number): string {
    return this.#texts.get(this.#columns.name.at(row));
  }

  /** The table as it is now; the writer can go on. */
  table(): NodeTable {
    const columns = Object.fromEntries(COLUMN_NAMES.map((name) => [name, this.#columns[name].copy()])) as Record<
      ColumnName,
      Int32Array
    >;
    // One array for both, for as long as nothing is assigned.
    columns.receivedMaterials = columns.materials;
    return new NodeTable(columns, {
      texts: Texts.NONE.with(this.#texts.all.slice(1)),
      words: Words.from(this.#words.all.slice()),
      lists: Lists.from(this.#listValues.slice()),
      places: Places.from(this.#places.copy()),
      extras: this.#extras.slice(),
    });
  }

  #set(column: ColumnName, row: number, value: number): void {
    this.#columns[column].set(row, value);
  }

  /** The path of names, with an ordinal among equals. */
  #path(at: number, parent: number, name: string, number: number): void {
    const shown = name.replaceAll('/', '∕').slice(0, LONGEST);
    const segment = parent < 0 ? this.#texts.number(`/${shown}`) : shown === name ? number : this.#texts.number(shown);
    let siblings = this.#ordinals.get(parent);
    if (!siblings) this.#ordinals.set(parent, (siblings = new Map()));
    const ordinal = (siblings.get(segment) ?? 0) + 1;
    siblings.set(segment, ordinal);
    this.#set('origin', at, parent);
    this.#set('segment', at, segment);
    this.#set('ordinal', at, ordinal);
  }

  #givenPath(at: number, parent: number, key: string): void {
    this.#keys ??= new Map();
    const above = parent < 0 ? undefined : this.#keys.get(parent);
    const isBelow = above !== undefined && key.startsWith(`${above}/`);
    this.#set('origin', at, isBelow ? parent : -1);
    this.#set('segment', at, this.#texts.number(isBelow ? key.slice(above.length + 1) : key));
    this.#set('ordinal', at, 1);
    this.#keys.set(at, key);
  }

  #list(texts: readonly string[]): number {
    const list = texts.map((text) => this.#words.number(text));
    const key = list.length === 1 ? list[0] : list.join();
    let number = this.#lists.get(key);
    if (number === undefined) this.#lists.set(key, (number = this.#listValues.push(list) - 1));
    return number;
  }

  #place(matrix: Matrix, always = false): number {
    if (!always && matrix.every((value, i) => value === IDENTITY[i])) return 0;
    for (let column = 0; column < 16; column += 4)
      this.#places.push3(matrix[column], matrix[column + 1], matrix[column + 2]);
    return this.#places.length / STRIDE - 1;
  }
}

/** Numbers for values, equal ones the same. */
class Interned<T> {
  readonly #numbers: Map<T, number>;
  constructor(readonly all: T[]) {
    this.#numbers = new Map(all.map((value, number) => [value, number]));
  }
  number(value: T): number {
    let number = this.#numbers.get(value);
    if (number === undefined) this.#numbers.set(value, (number = this.all.push(value) - 1));
    return number;
  }
  get(number: number): T {
    return this.all[number];
  }
}

/** The table of some rows that are objects: ids are their numbers, in order. */
export function nodeTable(nodes: Iterable<SceneNode>): NodeTable {
  const writer = new NodeWriter();
  for (const node of nodes) writer.add(node);
  return writer.table();
}
