/** Puts the scenes of several sources into one; keys begin with the id of the source. */
import { Lists } from './lists.ts';
import { COLUMN_NAMES, COLUMNS, NodeTable, NO_TABLES } from './nodes.ts';
import type { ColumnName, Extras } from './nodes.ts';
import { Words } from './texts.ts';
import { EMPTY_SCENE } from './types.ts';
import type { Scene } from './types.ts';

/** Scenes of several sources, each with its own roots, one after the other. */
export function mergeScenes(scenes: readonly Scene[]): Scene {
  if (scenes.length === 0) return EMPTY_SCENE;
  return {
    sources: scenes.flatMap(({ sources }) => sources),
    nodes: mergedNodes(scenes),
    meshes: Object.assign({}, ...scenes.map(({ meshes }) => meshes)) as Scene['meshes'],
    solids: Object.assign({}, ...scenes.map(({ solids }) => solids)) as Scene['solids'],
    materials: Object.assign({}, ...scenes.map(({ materials }) => materials)) as Scene['materials'],
    textures: Object.assign({}, ...scenes.map(({ textures }) => textures)) as Scene['textures'],
    layers: scenes.flatMap(({ layers }) => layers),
    animations: Object.assign({}, ...scenes.map(({ animations }) => animations)) as Scene['animations'],
  };
}

function mergedNodes(scenes: readonly Scene[]): NodeTable {
  const rows = scenes.reduce((sum, { nodes }) => sum + nodes.rows, 0);
  const columns = Object.fromEntries(COLUMN_NAMES.map((name) => [name, new Int32Array(rows)])) as Record<
    ColumnName,
    Int32Array
  >;
  const words = new Numbering<string>((word) => word);
  const lists = new Numbering<readonly number[]>((list) => list.join());
  words.number('');
  lists.number([]);
  const extras: Extras[] = [{}];
  let { texts, places } = NO_TABLES;
  let shift = 0;
  for (const { nodes, sources } of scenes) {
    const { tables } = nodes;
    const wordNumbers = Int32Array.from(tables.words.slice(), (word) => words.number(word));
    const listNumbers = Int32Array.from(tables.lists.slice(), (list) =>
      lists.number(list.map((word) => wordNumbers[word])),
    );
    // Texts and places are taken as they are: their numbers move up, but for none.
    const textShift = texts.length;
    const placeShift = places.length;
    texts = texts.joined(tables.texts);
    places = places.joined(tables.places);
    const extraShift = extras.length - 1;
    extras.push(...tables.extras.slice(1));
    const roots = new Numbering<string>((text) => text);
    const rootsFrom = texts.length;
    const prefix = sources[0]?.id ?? '';
    for (const name of COLUMN_NAMES) {
      const from = nodes.columns[name];
      const to = columns[name];
      const what = COLUMNS[name];
      if (what === 'number') to.set(from, shift);
      else if (what === 'word') for (let i = 0; i < from.length; i++) to[shift + i] = wordNumbers[from[i]];
      else if (what === 'list') for (let i = 0; i < from.length; i++) to[shift + i] = listNumbers[from[i]];
      else {
        const by = { row: shift, text: textShift, place: placeShift, extra: extraShift }[what];
        const none = what === 'row' ? -1 : 0;
        for (let i = 0; i < from.length; i++) to[shift + i] = from[i] === none ? none : from[i] + by;
      }
    }
    // Keys begin with the source.
    const { origin } = nodes.columns;
    for (let row = 0; row < nodes.rows; row++)
      if (origin[row] < 0)
        columns.segment[shift + row] = rootsFrom + roots.number(`${prefix}:${nodes.text('segment', row)}`);
    texts = texts.with(roots.all);
    shift += nodes.rows;
  }
  return new NodeTable(columns, {
    texts,
    words: Words.from(words.all),
    lists: Lists.from(lists.all),
    places,
    extras,
  });
}

/** Numbers for values, equal ones the same. */
class Numbering<T> {
  readonly all: T[] = [];
  readonly #numbers = new Map<string, number>();
  constructor(readonly keyOf: (value: T) => string) {}
  number(value: T): number {
    const key = this.keyOf(value);
    let number = this.#numbers.get(key);
    if (number === undefined) this.#numbers.set(key, (number = this.all.push(value) - 1));
    return number;
  }
}
