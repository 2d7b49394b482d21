/**
 * A scene as one blob: the columns and tables as they are in memory, packed. It is read without making an object for each row.
 *
 * `NPSC`, the version (32 bits), then packed (deflate, RFC 1951): the length of the head (32 bits), the head as JSON, and the sections
 * that it names, one after the other, all little-endian. Columns stand as differences from row to row, places number by number,
 * so that what repeats packs well.
 *
 * A scene may be stored upon another one, as that of a source is upon its survey: columns that are equal and the first entries of tables
 * that both have are kept there alone.
 */
import { bytesOf, joinedBytes } from '../bytes.ts';
import { PrismError } from '../errors.ts';
import { COLUMN_NAMES, COLUMNS, GONE, NO_TABLES, NodeTable } from './nodes.ts';
import type { ColumnName, Extras, Tables } from './nodes.ts';
import { STRIDE } from './places.ts';
import { Texts } from './texts.ts';
import type { Hash, Scene } from './types.ts';

const MAGIC = 0x4353504e;
/** Raised when older programs could not read what is written. */
export const SCENE_VERSION = 4;
/** Rows that are taken at most; what a blob says of itself is not believed beyond. */
const MAX_ROWS = 2_100_000;
/** Most bytes that a packed scene may unfold to. */
const MAX_BYTES = 2_000_000_000;

/** The scene that another is stored upon, and the name of its blob. */
export interface Ground {
  hash: Hash;
  scene: Scene;
}

interface Head {
  beside: Omit<Scene, 'nodes'>;
  rows: number;
  /** What is shared with the scene that it is stored upon: the columns, and how many of the first entries of each table. */
  upon?: { hash: Hash; columns: ColumnName[]; first: Record<Table, number> };
  /** Columns with one value in all rows. */
  constant: Partial<Record<ColumnName, number>>;
  extras: Extras[];
  /** Bytes of each section, in their order. */
  sections: number[];
}

/** The tables that are shared from their beginning. */
type Table = 'texts' | 'words' | 'lists' | 'places';

const NOTHING: Record<Table, number> = { texts: 0, words: 0, lists: 0, places: 0 };

/** @param ground a scene that is stored by itself, and that whoever reads this one has at hand */
export async function packScene({ nodes, ...beside }: Scene, ground?: Ground): Promise<Uint8Array> {
  const { columns, tables } = nodes;
  const upon = ground && { hash: ground.hash, ...sharedWith(nodes, ground.scene.nodes) };
  const first = upon?.first ?? NOTHING;
  if (columns.kind.includes(GONE)) throw new Error('A scene with rows taken away cannot be stored as a source.');
  const sections: Uint8Array[] = [];
  const constant: Head['constant'] = {};
  for (const name of COLUMN_NAMES) {
    const column = columns[name];
    if (upon?.columns.includes(name)) continue;
    if (column.every((value) => value === column[0])) constant[name] = column[0] ?? 0;
    else sections.push(bytesOf(differences(column)));
  }
  for (const texts of [tables.texts.since(first.texts), tables.words.slice(first.words)]) {
    const lengths: number[] = [];
    const parts: string[] = [];
    for (const text of texts) {
      lengths.push(text.length);
      parts.push(text);
    }
    sections.push(bytesOf(Uint32Array.from(lengths)), new TextEncoder().encode(parts.join('')));
  }
  const lists = tables.lists.slice(first.lists);
  sections.push(
    bytesOf(Uint32Array.from(lists, (list) => list.length)),
    bytesOf(Int32Array.from(lists.flat())),
    bytesOf(byNumber(tables.places.values(first.places))),
  );
  const head: Head = {
    beside,
    rows: nodes.rows,
    ...(upon ? { upon } : {}),
    constant,
    extras: [...tables.extras],
    sections: sections.map((section) => section.length),
  };
  const text = new TextEncoder().encode(JSON.stringify(head));
  const body = joinedBytes([bytesOf(Uint32Array.of(text.length)), text, ...sections]);
  return joinedBytes([
    bytesOf(Uint32Array.of(MAGIC, SCENE_VERSION)),
    await through(body, new CompressionStream('deflate-raw')),
  ]);
}

/** Columns that are equal, and how many of the first entries of each table. */
function sharedWith(nodes: NodeTable, { columns, tables }: NodeTable): Omit<NonNullable<Head['upon']>, 'hash'> {
  const isSame = (a: Int32Array, b: Int32Array) => a === b || (a.length === b.length && a.every((v, i) => v === b[i]));
  const shared = (from: number, name: Table, same: (i: number) => boolean) => {
    const most = Math.min(nodes.tables[name].length, tables[name].length);
    let count = Math.min(from, most);
    while (count < most && same(count)) count++;
    return count;
  };
  const { texts, words, lists, places } = nodes.tables;
  return {
    columns: COLUMN_NAMES.filter((name) => isSame(nodes.columns[name], columns[name])),
    first: {
      texts: shared(texts.sharedWith(tables.texts), 'texts', (i) => texts.get(i) === tables.texts.get(i)),
      words: shared(0, 'words', (i) => words.get(i) === tables.words.get(i)),
      lists: shared(0, 'lists', (i) => lists.get(i).join() === tables.lists.get(i).join()),
      places: shared(places.sharedWith(tables.places), 'places', (i) => places.isSame(i, tables.places, i)),
    },
  };
}

/**
 * @param groundOf fetches the scene that this one is stored upon
 * @throws PrismError `bad-scene` for anything that is not a whole scene of this version
 */
export async function unpackScene(bytes: Uint8Array, groundOf?: (hash: Hash) => Promise<Scene>): Promise<Scene> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 8 || view.getUint32(0, true) !== MAGIC) throw bad('it is no scene');
  if (view.getUint32(4, true) !== SCENE_VERSION)
    throw bad(`it has version ${view.getUint32(4, true)}, this program reads version ${SCENE_VERSION}`);
  try {
    return await sceneIn(await through(bytes.subarray(8), new DecompressionStream('deflate-raw')), groundOf);
  } catch (error) {
    if (error instanceof PrismError) throw error;
    throw bad(`it is damaged (${(error as Error).message || 'its packing is broken'})`);
  }
}

async function sceneIn(body: Uint8Array, groundOf: ((hash: Hash) => Promise<Scene>) | undefined): Promise<Scene> {
  const cursor = new Sections(body);
  const [length] = cursor.numbers(4, Uint32Array);
  const head = JSON.parse(new TextDecoder().decode(cursor.bytes(length))) as Head;
  if (!(head.rows >= 0 && head.rows <= MAX_ROWS)) throw bad(`it says that it has ${head.rows} rows`);
  const { upon } = head;
  if (upon && !groundOf) throw bad('it is stored upon a scene that is stored upon another');
  const ground = upon && groundOf ? (await groundOf(upon.hash)).nodes : undefined;
  const sizes = head.sections[Symbol.iterator]();
  const next = () => sizes.next().value ?? 0;
  const columns = {} as Record<ColumnName, Int32Array>;
  for (const name of COLUMN_NAMES) {
    const value = head.constant[name];
    if (ground && upon?.columns.includes(name)) columns[name] = ground.columns[name];
    else
      columns[name] =
        value === undefined ? sums(cursor.numbers(next(), Int32Array)) : new Int32Array(head.rows).fill(value);
  }
  const textsAt = () => {
    const ends = cursor.numbers(next(), Uint32Array);
    for (let i = 1; i < ends.length; i++) ends[i] += ends[i - 1];
    return { ends, together: new TextDecoder().decode(cursor.bytes(next())) };
  };
  const texts = textsAt();
  const words = textsAt();
  const lengths = cursor.numbers(next(), Uint32Array);
  const values = cursor.numbers(next(), Int32Array);
  const lists: number[][] = [];
  let at = 0;
  for (const length of lengths) lists.push([...values.subarray(at, (at += length))]);
  const places = byPlace(cursor.numbers(next(), Float64Array));
  const below = ground?.tables ?? NO_TABLES;
  const first = upon?.first ?? NOTHING;
  const tables: Tables = {
    texts: below.texts.first(first.texts).joined(Texts.from(texts.together, texts.ends)),
    words: below.words.first(first.words).with([...Texts.from(words.together, words.ends)]),
    lists: below.lists.first(first.lists).with(lists),
    places: below.places.first(first.places).with(places),
    extras: head.extras,
  };
  check(head, columns, tables);
  return { ...head.beside, nodes: new NodeTable(columns, tables) };
}

/** Every number has to point to something: what is damaged is refused here, and not where it is used. */
function check(head: Head, columns: Record<ColumnName, Int32Array>, tables: Tables): void {
  const { texts, words, lists, places, extras } = tables;
  const limits = { row: head.rows, text: texts.length, word: words.length, list: lists.length, place: places.length, extra: extras.length }; // prettier-ignore
  for (const name of COLUMN_NAMES) {
    const column = columns[name];
    if (column.length !== head.rows) throw bad(`its column ${name} has ${column.length} rows of ${head.rows}`);
    const what = COLUMNS[name];
    if (what === 'number') continue;
    const least = what === 'row' ? -1 : 0;
    const most = limits[what];
    for (let row = 0; row < column.length; row++)
      if (column[row] < least || column[row] >= most || (what === 'row' && column[row] >= row))
        throw bad(`its column ${name} points to ${column[row]}, which is not there (row ${row})`);
  }
  for (const kind of columns.kind) if (kind < 1 || kind > 4) throw bad(`it has a kind of row that is unknown: ${kind}`);
  const { beside } = head;
  for (const mesh of new Set(columns.mesh))
    if (mesh > 0 && !beside.meshes[words.get(mesh)]) throw bad('it names a mesh that it does not describe');
  for (const solid of new Set(columns.solid))
    if (solid > 0 && !beside.solids[words.get(solid)]) throw bad('it names a solid that it does not describe');
}

function bad(why: string): PrismError {
  return new PrismError('bad-scene', `A stored scene cannot be used: ${why}. It is made again from its source.`);
}

/** Reads one section after the other. */
class Sections {
  #at = 0;
  constructor(readonly body: Uint8Array) {}

  bytes(length: number): Uint8Array {
    if (!(length >= 0) || this.#at + length > this.body.length) throw bad('it ends too early');
    this.#at += length;
    return this.body.subarray(this.#at - length, this.#at);
  }

  /** A copy of its own, since sections stand where they come. */
  numbers<T extends Int32Array | Uint32Array | Float64Array>(length: number, make: new (from: ArrayBuffer) => T): T {
    return new make(this.bytes(length).slice().buffer);
  }
}

function differences(column: Int32Array): Int32Array {
  const out = new Int32Array(column.length);
  for (let i = 0; i < out.length; i++) out[i] = column[i] - (column[i - 1] ?? 0);
  return out;
}

function sums(column: Int32Array): Int32Array {
  for (let i = 1; i < column.length; i++) column[i] += column[i - 1];
  return column;
}

/** The first numbers of all places, then all second ones, and so on. */
function byNumber(values: Float64Array): Float64Array {
  const count = values.length / STRIDE;
  const out = new Float64Array(values.length);
  for (let place = 0; place < count; place++)
    for (let i = 0; i < STRIDE; i++) out[i * count + place] = values[place * STRIDE + i];
  return out;
}

function byPlace(values: Float64Array): Float64Array {
  const count = values.length / STRIDE;
  const out = new Float64Array(values.length);
  for (let i = 0; i < STRIDE; i++)
    for (let place = 0; place < count; place++) out[place * STRIDE + i] = values[i * count + place];
  return out;
}

/** @throws PrismError `bad-scene` where more comes out than a scene can be */
async function through(bytes: Uint8Array, stream: CompressionStream | DecompressionStream): Promise<Uint8Array> {
  const writer = stream.writable.getWriter();
  // What is wrong with the bytes is heard where they are read.
  void writer.write(bytes as Uint8Array<ArrayBuffer>).catch(() => {});
  void writer.close().catch(() => {});
  const parts: Uint8Array[] = [];
  let length = 0;
  const reader = (stream.readable as ReadableStream<Uint8Array>).getReader();
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return joinedBytes(parts);
    parts.push(value);
    length += value.length;
    if (length > MAX_BYTES) throw bad('it unfolds to more than can be taken');
  }
}
