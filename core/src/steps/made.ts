/** Rows that steps make: what later steps know them by, and of which source they are. */
import type { TextField } from '../fields/field.ts';
import type { SceneFacts } from '../scene/facts.ts';
import type { Scene } from '../scene/types.ts';

/** A name for what a step makes that stays when people call it otherwise: set once, when the step is. */
export const MARK_FIELD: TextField<object> = {
  type: 'text',
  label: 'Mark',
  most: 64,
  empty: true,
  optional: true,
  help: 'What later steps know the new row by; its name where nothing is said.',
  when: () => false,
};

/** A key that no row has, of what it is to be called in its source; numbered where it is taken. */
export function keyFor(
  facts: SceneFacts,
  source: string,
  wanted: string,
  taken: ReadonlySet<string> = new Set(),
): string {
  const isFree = (key: string) => facts.rowOf(key) === undefined && !taken.has(key);
  // Names of a source begin with a slash there.
  const start = `${source}:+${wanted.slice(0, 200)}`;
  for (let number = 1; ; number++) {
    const key = number === 1 ? start : `${start} ${number}`;
    if (isFree(key)) return key;
  }
}

/** Names of the sources that rows come from, each once. */
export function sourcesOf({ nodes, sources }: Scene, rows: Iterable<number>): string[] {
  const seen = new Set<string>();
  for (const row of rows) seen.add(nodes.word('source', row));
  return [...seen].map((id) => sources.find((source) => source.id === id)?.name ?? id);
}
