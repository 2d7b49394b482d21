/** New names by a pattern: what stands in braces is put in. */
import type { NodeTable } from '../scene/nodes.ts';
import type { NameMaker } from '../scene/texts.ts';

/** What can stand in braces, and what it stands for. */
export const PLACEHOLDERS = {
  name: 'the old name',
  n: 'a number',
  received: 'the name in the source',
  parent: 'the assembly above',
  layer: 'the layer',
} as const;

export interface Counter {
  /** Number of the first, and what is added for the next. */
  from: number;
  by: number;
  /** Digits at least, with zeros in front. */
  digits: number;
}

const PARTS = /(\{(?:name|n|received|parent|layer)\})/;

/** True where a pattern asks for more of a row than its name. */
export function asksForRow(pattern: string): boolean {
  return /\{(received|parent|layer)\}/.test(pattern);
}

export function formatCounter(index: number, { from, by, digits }: Counter): string {
  return String(from + index * by).padStart(digits, '0');
}

/**
 * Makes names of old ones, without looking at their rows.
 * @param numbers of each name in its order, where they do not count through
 */
export function nameMaker(pattern: string, counter: Counter, numbers?: Int32Array): NameMaker {
  const [start, ...rest] = pattern.split(PARTS);
  const make = (name: string, index: number) => {
    let out = start;
    for (let i = 0; i < rest.length; i += 2)
      out += (rest[i] === '{n}' ? formatCounter(numbers?.[index] ?? index, counter) : name) + rest[i + 1];
    return out;
  };
  return Object.assign(make, { start, goesOn: rest[0] === '{name}' });
}

/** The name of one row. */
export function nameOfRow(pattern: string, nodes: NodeTable, row: number, index: number, counter: Counter): string {
  const parent = nodes.columns.parent[row];
  const values: Record<string, () => string> = {
    '{name}': () => nodes.text('name', row),
    '{n}': () => formatCounter(index, counter),
    '{received}': () => nodes.text('received', row),
    '{parent}': () => (parent < 0 ? '' : nodes.text('name', parent)),
    '{layer}': () => nodes.word('layer', row),
  };
  return pattern
    .split(PARTS)
    .map((part) => values[part]?.() ?? part)
    .join('')
    .trim();
}
