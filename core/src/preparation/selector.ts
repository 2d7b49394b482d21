/** Selectors: rules that say which parts a step concerns, so that it still works on the next revision. */
import { lazy, mixed, number, object, string, array } from 'yup';
import { factsOf } from '../scene/facts.ts';
import { GONE } from '../scene/nodes.ts';
import type { NodeTable } from '../scene/nodes.ts';
import { Rows } from '../scene/rowSet.ts';
import type { Texts } from '../scene/texts.ts';
import { withDescendants } from '../scene/tree.ts';
import type { Scene, SceneNode } from '../scene/types.ts';

export type Selector =
  | { by: 'all' }
  | { by: 'picked'; keys: string[] }
  | { by: 'layer'; layers: string[] }
  | {
      by: 'name';
      pattern: string;
      /** The name in the source, or (where absent) the name at this step. */ as?: 'received';
    }
  | { by: 'material'; materials: string[] }
  | { by: 'source'; sources: string[] }
  | { by: 'class'; classes: string[] }
  | { by: 'property'; /** Name and value, `*` and `?` as in name patterns. */ name: string; value: string }
  | { by: 'size'; /** Largest extent, metres. */ min?: number; max?: number }
  | { by: 'and' | 'or' | 'not'; of: Selector[] };

export const ALL: Selector = { by: 'all' };

const MAX_DEPTH = 12;
const texts = array(string().required().max(4000)).required().max(200_000);

/** Yup schema of a selector. */
export const selectorSchema: ReturnType<typeof lazy> = schemaAt(0);

function schemaAt(depth: number): ReturnType<typeof lazy> {
  return lazy((value: { by?: string } | undefined) => {
    const by = string().required();
    switch (value?.by) {
      case 'picked':
        return object({ by, keys: texts }).noUnknown();
      case 'layer':
        return object({ by, layers: texts }).noUnknown();
      case 'name':
        return object({
          by,
          pattern: string().required().max(300),
          as: string().oneOf(['received'] as const),
        }).noUnknown();
      case 'material':
        return object({ by, materials: texts }).noUnknown();
      case 'source':
        return object({ by, sources: texts }).noUnknown();
      case 'class':
        return object({ by, classes: texts }).noUnknown();
      case 'property':
        return object({ by, name: string().required().max(300), value: string().required().max(300) }).noUnknown();
      case 'size':
        return object({ by, min: number().min(0), max: number().min(0) }).noUnknown();
      case 'and':
      case 'or':
      case 'not':
        if (depth >= MAX_DEPTH) return mixed().test('depth', 'The rule is nested too deeply.', () => false);
        return object({
          by,
          of: array(schemaAt(depth + 1) as never)
            .required()
            .max(50),
        }).noUnknown();
      default:
        return object({ by: string().oneOf(['all']).required() }).noUnknown();
    }
  });
}

/**
 * The rows that a selector names. Picked assemblies, and those named by a pattern, bring what is below them, unless only the rows
 * `themselves` are meant.
 */
export function select(scene: Scene, selector: Selector, themselves = false): Rows {
  const { nodes } = scene;
  const { columns } = nodes;
  const below = (rows: Rows) => (themselves ? rows : withDescendants(scene, rows));
  switch (selector.by) {
    case 'all':
      return new Rows(Uint8Array.from(columns.kind, (kind) => (kind === GONE ? 0 : 1)));
    case 'picked': {
      const mask = new Uint8Array(nodes.rows);
      const facts = factsOf(scene);
      for (const key of selector.keys) {
        const row = facts.rowOf(key);
        if (row !== undefined) mask[row] = 1;
      }
      return below(new Rows(mask));
    }
    case 'layer':
      return byWord(nodes, columns.layer, selector.layers);
    case 'name': {
      const matches = oncePerNumber(nodes.tables.texts, nameMatcher(selector.pattern));
      const column = selector.as === 'received' ? columns.received : columns.name;
      return below(matching(nodes, (row) => matches(column[row])));
    }
    case 'material': {
      const wanted = new Set(selector.materials.map((material) => nodes.tables.words.find(material)));
      const { lists } = nodes.tables;
      const has = new Uint8Array(lists.length);
      for (let list = 0; list < lists.length; list++)
        if (lists.get(list).some((word) => wanted.has(word))) has[list] = 1;
      return matching(nodes, (row) => has[columns.materials[row]] === 1);
    }
    case 'source':
      return byWord(nodes, columns.source, selector.sources);
    case 'class':
      return byWord(nodes, columns.class, selector.classes);
    case 'property': {
      const [isName, isValue] = [nameMatcher(selector.name), nameMatcher(selector.value)];
      const { lists, words } = nodes.tables;
      const has = new Uint8Array(lists.length);
      for (let number = 1; number < lists.length; number++) {
        const list = lists.get(number);
        for (let i = 0; i + 1 < list.length && has[number] === 0; i += 2)
          if (isName(words.get(list[i])) && isValue(words.get(list[i + 1]))) has[number] = 1;
      }
      return matching(nodes, (row) => has[columns.properties[row]] === 1);
    }
    case 'size': {
      const { min = 0, max = Infinity } = selector;
      // Of each shape once; few shapes stand for many rows.
      const fits = (extent: number | undefined) => (extent !== undefined && extent >= min && extent <= max ? 1 : 2);
      const meshes = new Uint8Array(nodes.tables.words.length);
      const solids = new Uint8Array(nodes.tables.words.length);
      return matching(nodes, (row) => {
        const [list, number] = columns.mesh[row] > 0 ? [meshes, columns.mesh[row]] : [solids, columns.solid[row]];
        if (list[number] === 0) list[number] = fits(extentOf(scene, nodes.row(row)));
        return list[number] === 1;
      });
    }
    case 'and':
    case 'or':
    case 'not': {
      const sets = selector.of.map((inner) => select(scene, inner, themselves).mask);
      if (selector.by === 'and') return matching(nodes, (row) => sets.every((set) => set[row] === 1));
      const named = selector.by === 'or';
      return matching(nodes, (row) => sets.some((set) => set[row] === 1) === named);
    }
  }
}

/** Rows that are there and pass a test. */
function matching({ rows, columns: { kind } }: NodeTable, test: (row: number) => boolean): Rows {
  const mask = new Uint8Array(rows);
  for (let row = 0; row < rows; row++) if (kind[row] !== GONE && test(row)) mask[row] = 1;
  return new Rows(mask);
}

/** Rows with one of some words in a column. */
function byWord(nodes: NodeTable, column: Int32Array, texts: readonly string[]): Rows {
  const wanted = new Uint8Array(nodes.tables.words.length);
  for (const text of texts) {
    const word = nodes.tables.words.find(text);
    if (word > 0) wanted[word] = 1;
  }
  return matching(nodes, (row) => wanted[column[row]] === 1);
}

/** A test of texts by their numbers, each text tested once. */
export function oncePerNumber(texts: Texts, test: (text: string) => boolean): (number: number) => boolean {
  const known = new Uint8Array(texts.length);
  return (number) => {
    if (known[number] === 0) known[number] = test(texts.get(number)) ? 1 : 2;
    return known[number] === 1;
  };
}

/** Largest extent of a part in its own frame, metres: from its mesh, or roughly from its solid. */
export function extentOf(scene: Scene, node: SceneNode): number | undefined {
  const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
  if (figures) return Math.max(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis]));
  return node.solid ? scene.solids[node.solid]?.extent : undefined;
}

/** `*` stands for anything, `?` for one character; letters match in either case. */
export function nameMatcher(pattern: string): (name: string) => boolean {
  const source = pattern
    .replace(/[.+^${}()|[\]\\]/g, '\\$&')
    .replace(/\*+/g, '.*')
    .replace(/\?/g, '.');
  if (pattern === '*') return () => true;
  const expression = new RegExp(`^${source}$`, 'iu');
  const begins = prefixOf(pattern);
  return (name) => begins(name) && expression.test(name);
}

/**
 * A quick look at the first letters of a name, so that most need no expression: false where it cannot match. Letters beyond ASCII have
 * more forms than two; from the first of them on the expression decides.
 */
function prefixOf(pattern: string): (name: string) => boolean {
  const [plain = ''] = /^[\x20-\x7e]*?(?=[*?]|[^\x20-\x7e]|$)/.exec(pattern) ?? [];
  const codes = Array.from(plain.toLowerCase(), (letter) => letter.charCodeAt(0));
  return (name) => {
    for (let i = 0; i < codes.length; i++) {
      const code = name.charCodeAt(i);
      if (code > 0x7e) return true;
      if (code !== codes[i] && (code | 0x20) !== codes[i]) return false;
    }
    return true;
  };
}

/** Keys of `picked` selectors that no node has any more: a step says so instead of dropping them. */
export function lostKeys(scene: Scene, selector: Selector): string[] {
  if (selector.by === 'picked') return selector.keys.filter((key) => factsOf(scene).rowOf(key) === undefined);
  return 'of' in selector ? selector.of.flatMap((inner) => lostKeys(scene, inner)) : [];
}
