/** What a kind of rule is: each is one file in this folder, entered in `rules.ts`. A rule says which rows a step concerns. */
import type { Fields } from '../fields/field.ts';
import { GONE } from '../scene/nodes.ts';
import type { NodeTable } from '../scene/nodes.ts';
import { Rows } from '../scene/rowSet.ts';
import type { Scene } from '../scene/types.ts';

/** Any rule, as those that hold others see it: the rules that there are make `Selector` of it. */
export interface AnyRule {
  by: string;
}

/** How rows are looked for. */
export interface Way {
  /** Only the rows themselves that are named, without what is below them. */
  themselves: boolean;
  /** The rows of a rule within a rule. */
  inner(rule: AnyRule): Rows;
}

/** What people call things that rules hold by an id. */
export interface Known {
  source(id: string): string;
  material(id: string): string;
}

/** A word that a rule can name in a scene. */
export interface Offer {
  value: string;
  label: string;
}

export interface RuleKind<R extends AnyRule = AnyRule> {
  readonly by: R['by'];
  /** Name for people, where a rule is chosen. */
  readonly title: string;
  /** What it finds, in a sentence. */
  readonly purpose: string;
  readonly fields: Fields<Omit<R, 'by'>>;
  /** What a new one begins with. */
  readonly defaults: Omit<R, 'by'>;
  /** The rule in a few words. */
  describe(rule: R, known: Known, inner: (rule: AnyRule) => string): string;
  select(scene: Scene, rule: R, way: Way): Rows;
  /** Where all that matters is one word of a row: the column, and the words that are meant. */
  words?(rule: R): { column: 'layer' | 'class' | 'source'; of: readonly string[] };
  /** Words that can be chosen in this scene; absent where words are typed, or none are needed. */
  offers?(scene: Scene, known: Known): Offer[];
}

/** Rows that are there and pass a test. */
export function matching({ rows, columns: { kind } }: NodeTable, test: (row: number) => boolean): Rows {
  const mask = new Uint8Array(rows);
  for (let row = 0; row < rows; row++) if (kind[row] !== GONE && test(row)) mask[row] = 1;
  return new Rows(mask);
}

/** 1 for the number of each of some words. */
export function wantedWords({ tables: { words } }: NodeTable, texts: readonly string[]): Uint8Array {
  const wanted = new Uint8Array(words.length);
  for (const text of texts) {
    const word = words.find(text);
    if (word > 0) wanted[word] = 1;
  }
  return wanted;
}

/** Rows with one of some words in a column. */
export function withWord(nodes: NodeTable, column: Int32Array, texts: readonly string[]): Rows {
  const wanted = wantedWords(nodes, texts);
  return matching(nodes, (row) => wanted[column[row]] === 1);
}

/** Words as offers, in the order of their labels. */
export function offersOf(words: Iterable<string>, label: (word: string) => string = (word) => word): Offer[] {
  return [...words]
    .map((value) => ({ value, label: label(value) }))
    .sort((a, b) => a.label.localeCompare(b.label, 'en', { numeric: true }));
}
