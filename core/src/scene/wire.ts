/**
 * Scenes on their way between threads: what is different from the scene that was sent before, as typed arrays that change hands without
 * being copied. The first one is different from nothing.
 */
import { COLUMN_NAMES, COLUMNS, NodeTable } from './nodes.ts';
import type { ColumnName, Extras, Tables } from './nodes.ts';
import type { SceneTables } from './change.ts';
import { Texts } from './texts.ts';
import type { MeshFigures, Scene } from './types.ts';

/** What is added to a table after its first `from` entries; what it had beyond them is gone. */
interface Added<T> {
  from: number;
  added: T;
}

export interface SceneUpdate {
  rows: number;
  /** Values of some rows, or of all where no rows are named. */
  columns: { name: ColumnName; rows?: Int32Array; values: Int32Array }[];
  /** Columns with the same numbers, some of which stand for something else now: whoever compares columns has to see it. */
  otherwise: ColumnName[];
  texts: Added<{ together: string; ends: Uint32Array }>;
  words: Added<string[]>;
  lists: Added<(readonly number[])[]>;
  places: Added<Float64Array>;
  extras: Added<Extras[]>;
  /** What is beside the nodes and another; meshes are added only, they never change under their name. */
  beside: Partial<Omit<SceneTables, 'meshes'>>;
  meshes: Record<string, MeshFigures>;
}

/** A share of rows from which on the whole column is sent. */
const WHOLE = 0.4;

/** @returns what makes `to` of `from`; the arrays can be given away */
export function updateBetween(from: Scene, to: Scene): SceneUpdate {
  const [a, b] = [from.nodes.tables, to.nodes.tables];
  const columns: SceneUpdate['columns'] = [];
  for (const name of COLUMN_NAMES) {
    const [before, after] = [from.nodes.columns[name], to.nodes.columns[name]];
    if (before === after) continue;
    let count = 0;
    for (let row = 0; row < after.length; row++) if (before[row] !== after[row]) count++;
    if (count === 0 && before.length === after.length) continue;
    if (count > after.length * WHOLE || before.length > after.length) columns.push({ name, values: after.slice() });
    else {
      const [rows, values] = [new Int32Array(count), new Int32Array(count)];
      for (let row = 0, at = 0; row < after.length; row++)
        if (before[row] !== after[row]) {
          rows[at] = row;
          values[at++] = after[row];
        }
      columns.push({ name, rows, values });
    }
  }
  const beside: SceneUpdate['beside'] = {};
  for (const name of ['sources', 'solids', 'materials', 'textures', 'layers', 'animations', 'origin', 'links'] as const)
    if (from[name] !== to[name]) Object.assign(beside, { [name]: to[name] });
  const meshes: Record<string, MeshFigures> = {};
  if (from.meshes !== to.meshes)
    for (const hash in to.meshes) if (from.meshes[hash] !== to.meshes[hash]) meshes[hash] = to.meshes[hash];
  const texts = a.texts.sharedWith(b.texts);
  const places = a.places.sharedWith(b.places);
  const words = sharedEntries(a.words.length, b.words.length, (i) => a.words.get(i) === b.words.get(i));
  const lists = sharedEntries(a.lists.length, b.lists.length, (i) => a.lists.get(i) === b.lists.get(i));
  const extras = sharedEntries(a.extras.length, b.extras.length, (i) => a.extras[i] === b.extras[i]);
  const before = { text: a.texts.length, word: a.words.length, list: a.lists.length, place: a.places.length, extra: a.extras.length }; // prettier-ignore
  const same = { text: texts, word: words, list: lists, place: places, extra: extras };
  const otherwise = COLUMN_NAMES.filter((name) => {
    const what = COLUMNS[name];
    if (what === 'row' || what === 'number' || columns.some((column) => column.name === name)) return false;
    return same[what] < before[what] && reaches(to.nodes.columns[name], same[what]);
  });
  return {
    rows: to.nodes.rows,
    columns,
    otherwise,
    texts: { from: texts, added: written(b.texts, texts) },
    words: { from: words, added: b.words.slice(words) },
    lists: { from: lists, added: b.lists.slice(lists) },
    places: { from: places, added: b.places.values(places) },
    extras: { from: extras, added: b.extras.slice(extras) },
    beside,
    meshes,
  };
}

/** The arrays of an update that need not be copied when it is sent. */
export function transferable({ columns, texts, places }: SceneUpdate): ArrayBuffer[] {
  const arrays = [
    ...columns.flatMap(({ rows, values }) => (rows ? [rows, values] : [values])),
    texts.added.ends,
    places.added,
  ];
  return [...new Set(arrays.map(({ buffer }) => buffer as ArrayBuffer))];
}

/** The scene after an update. Meshes are entered in the record that the scene before has: they are named by their content. */
export function updated(scene: Scene, update: SceneUpdate): Scene {
  const columns = { ...scene.nodes.columns } as Record<ColumnName, Int32Array>;
  for (const { name, rows, values } of update.columns) {
    if (!rows) {
      columns[name] = values;
      continue;
    }
    const column = new Int32Array(update.rows);
    if (COLUMNS[name] === 'row') column.fill(-1);
    column.set(columns[name]);
    for (let i = 0; i < rows.length; i++) column[rows[i]] = values[i];
    columns[name] = column;
  }
  const { texts, words, lists, places, extras } = scene.nodes.tables;
  const tables: Tables = {
    texts: joinedTexts(texts.first(update.texts.from), update.texts.added),
    words: words.first(update.words.from).with(update.words.added),
    lists: lists.first(update.lists.from).with(update.lists.added),
    places: places.first(update.places.from).with(update.places.added),
    extras: [...extras.slice(0, update.extras.from), ...update.extras.added],
  };
  for (const name of update.otherwise) columns[name] = columns[name].slice();
  const isSame =
    update.rows === scene.nodes.rows && COLUMN_NAMES.every((name) => columns[name] === scene.nodes.columns[name]);
  return {
    ...scene,
    ...update.beside,
    meshes: Object.assign(scene.meshes, update.meshes),
    nodes: isSame ? scene.nodes : new NodeTable(columns, tables),
  };
}

/** True where some number is not below a limit. */
function reaches(column: Int32Array, limit: number): boolean {
  for (let row = 0; row < column.length; row++) if (column[row] >= limit) return true;
  return false;
}

function sharedEntries(a: number, b: number, isSame: (index: number) => boolean): number {
  const most = Math.min(a, b);
  let at = 0;
  while (at < most && isSame(at)) at++;
  return at;
}

/** Texts one after the other, with the place where each ends. */
function written(texts: Texts, from: number): { together: string; ends: Uint32Array } {
  const ends = new Uint32Array(texts.length - from);
  const parts: string[] = [];
  let length = 0;
  for (const text of texts.since(from)) {
    parts.push(text);
    length += text.length;
    ends[parts.length - 1] = length;
  }
  return { together: parts.join(''), ends };
}

function joinedTexts(first: Texts, { together, ends }: { together: string; ends: Uint32Array }): Texts {
  return ends.length === 0 ? first : first.joined(Texts.from(together, ends));
}
