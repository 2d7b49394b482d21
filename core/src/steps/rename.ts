/** Step: rename rows, parts or assemblies. The name as received is kept beside the new one. */
import { asksForRow, nameMaker, nameOfRow, PLACEHOLDERS } from '../naming/pattern.ts';
import type { Counter } from '../naming/pattern.ts';
import { replacedIn } from '../naming/replace.ts';
import { withoutSuffixes } from '../naming/suffixes.ts';
import { uniqueNames } from '../naming/unique.ts';
import type { SceneEditor } from '../scene/editor.ts';
import { ASSEMBLY, GONE, PART } from '../scene/nodes.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export interface RenameParameters {
  /** By a pattern where nothing is said. */
  how?: 'replace' | 'suffixes' | 'unique' | 'received';
  /** The pattern: see `naming/pattern.ts`. */
  name?: string;
  /** Of the counter: number of the first, digits at least, and whether each assembly begins anew. */
  from?: number;
  digits?: number;
  each?: 'assembly';
  find?: string;
  replace?: string;
  where?: 'start' | 'end';
  /** Numbers that may belong to the name too. */
  suffix?: 'numbers';
  /** Unique among all rows, or among those of one assembly. */
  among?: 'siblings';
  /** The rows that the rule names themselves, or the parts or assemblies at and below them. */
  of: 'picked' | 'parts' | 'assemblies';
}

const isPattern = ({ how }: RenameParameters) => how === undefined;
const counts = (parameters: RenameParameters) => isPattern(parameters) && (parameters.name ?? '').includes('{n}');

export const renameStep = defineStep<RenameParameters>({
  kind: 'rename',
  title: 'Rename',
  purpose: 'Gives rows, parts or assemblies another name; the name as received is kept beside it.',
  also: ['name', 'label', 'number', 'count', 'find and replace', 'suffix', 'prefix', 'unique', 'original name'],
  act: 'Set names',
  station: 'arrange',
  topic: 'Names',
  place: WHEREVER,
  version: 3,
  needs: 'manifest',
  fields: {
    how: {
      type: 'choice',
      label: 'How',
      called: 'way to rename',
      choices: [
        { value: undefined, label: 'by a pattern' },
        { value: 'replace', label: 'find and replace' },
        { value: 'suffixes', label: 'take off what exporters add' },
        { value: 'unique', label: 'make unique' },
        { value: 'received', label: 'as received' },
      ],
    },
    name: {
      type: 'text',
      label: 'New name',
      most: 1000,
      optional: true,
      help: Object.entries(PLACEHOLDERS)
        .map(([name, meaning]) => `{${name}} is ${meaning}`)
        .join(', ')
        .concat('.'),
      when: isPattern,
    },
    from: {
      type: 'quantity',
      of: 'factor',
      unit: '',
      label: 'From',
      called: 'first number',
      min: 0,
      max: 1e9,
      optional: { meaning: 1 },
      help: 'The first number of {n}.',
      when: counts,
    },
    digits: {
      type: 'quantity',
      of: 'factor',
      unit: '',
      label: 'Digits',
      min: 1,
      max: 12,
      optional: { meaning: 1 },
      help: 'At least so many, with zeros in front.',
      when: counts,
    },
    each: {
      type: 'choice',
      label: 'Counts',
      called: 'way to count',
      choices: [
        { value: undefined, label: 'through all' },
        { value: 'assembly', label: 'anew in each assembly' },
      ],
      when: counts,
    },
    find: { type: 'text', label: 'Find', most: 1000, optional: true, when: ({ how }) => how === 'replace' },
    replace: {
      type: 'text',
      label: 'Replace by',
      most: 1000,
      optional: true,
      help: 'Nothing takes it away.',
      when: ({ how }) => how === 'replace',
    },
    where: {
      type: 'choice',
      label: 'Where',
      called: 'place in the name',
      choices: [
        { value: undefined, label: 'anywhere' },
        { value: 'start', label: 'at the start' },
        { value: 'end', label: 'at the end' },
      ],
      when: ({ how }) => how === 'replace',
    },
    suffix: {
      type: 'choice',
      label: 'Takes off',
      called: 'kind of suffix',
      choices: [
        { value: undefined, label: 'counters: .001 :2 (2) <2>' },
        { value: 'numbers', label: 'numbers too: _2 -2 2' },
      ],
      when: ({ how }) => how === 'suffixes',
    },
    among: {
      type: 'choice',
      label: 'Unique among',
      called: 'range of unique names',
      choices: [
        { value: undefined, label: 'all rows' },
        { value: 'siblings', label: 'rows of one assembly' },
      ],
      when: ({ how }) => how === 'unique',
    },
    of: {
      type: 'choice',
      label: 'Renames',
      help: 'What of the rows that the rule names gets the name.',
      choices: [
        { value: 'picked', label: 'the rows themselves' },
        { value: 'parts', label: 'each part at or below' },
        { value: 'assemblies', label: 'each assembly at or below' },
      ],
    },
  },
  defaults: { name: '{name}', of: 'picked' },
  example: {
    selector: { by: 'layer', layers: ['FASTENERS'] },
    parameters: { name: 'Bolt {n}', from: 1, digits: 3, of: 'parts' },
  },
  check({ how, name, find }) {
    if (how === undefined && !/\S/.test(name ?? '')) return 'The new name is missing.';
    if (how === 'replace' && !find) return 'What is to be found is missing.';
    return undefined;
  },

  summary: ({ how, name, find, replace }) => {
    switch (how) {
      case undefined:
        return `“${name ?? ''}”`;
      case 'replace':
        return `“${find}” → “${replace ?? ''}”`;
      case 'suffixes':
        return 'without suffixes';
      case 'unique':
        return 'made unique';
      case 'received':
        return 'as received';
    }
  },
  counts: ({ of }) => (of === 'picked' ? 'rows' : of),
  themselves: ({ of }) => of === 'picked',

  apply(edit, rows, parameters) {
    const concerned = rowsOf(edit, rows, parameters.of);
    const { nodes } = edit.scene;
    const { how } = parameters;
    if (how === undefined) byPattern(edit, concerned, parameters);
    else if (how === 'received') for (const row of concerned) edit.setName(row, nodes.columns.received[row]);
    else if (how === 'unique') makeUnique(edit, concerned, parameters);
    else eachName(edit, concerned, changerOf(parameters));
    return { pending: 0, problems: [] };
  },
});

function rowsOf(edit: SceneEditor, rows: RowSet, of: RenameParameters['of']): Int32Array {
  const { kind } = edit.scene.nodes.columns;
  const out = new Int32Array(rows.size);
  let count = 0;
  eachRow(edit.scene, rows, (row) => {
    if ((of === 'parts' && kind[row] !== PART) || (of === 'assemblies' && kind[row] !== ASSEMBLY)) return;
    out[count++] = row;
  });
  return out.subarray(0, count);
}

function byPattern(edit: SceneEditor, concerned: Int32Array, parameters: RenameParameters): void {
  const { name = '', from = 1, digits = 1, each } = parameters;
  const { nodes } = edit.scene;
  const { name: names, parent } = nodes.columns;
  const [counted, kept] = [name.includes('{n}'), name.includes('{name}')];
  const counter: Counter = { from: Math.round(from), by: 1, digits: Math.round(digits) };
  if (name === '{name}') return;
  const numbers = each === 'assembly' ? countedInEach(concerned, parent) : undefined;
  if (asksForRow(name)) {
    concerned.forEach((row, i) => {
      const made = nameOfRow(name, nodes, row, numbers?.[i] ?? i, counter);
      if (made !== '') edit.rename(row, made);
    });
    return;
  }
  if (!counted && !kept) {
    for (const row of concerned) edit.rename(row, name);
    return;
  }
  // What is made of other names is written out when somebody reads it; without a counter, equal names stay one.
  const made = nameMaker(name, counter, numbers);
  const olds = new Int32Array(concerned.length);
  /** What each older name becomes, as its place in `olds`; -1 for none so far. */
  const known = new Int32Array(counted ? 0 : nodes.tables.texts.length).fill(-1);
  let length = 0;
  for (const row of concerned) {
    const old = names[row];
    if (!counted && known[old] >= 0) continue;
    if (!counted) known[old] = length;
    olds[length++] = old;
  }
  const first = edit.newNames(olds.subarray(0, length), made);
  for (let i = 0; i < concerned.length; i++) {
    const row = concerned[i];
    // A counter may arrive at the name that is there.
    if (counted && !kept && made('', i) === nodes.text('name', row)) continue;
    edit.setName(row, first + (counted ? i : known[names[row]]));
  }
}

/** Of each row, how many of the same parent came before it. */
function countedInEach(concerned: Int32Array, parent: Int32Array): Int32Array {
  const counts = new Map<number, number>();
  return concerned.map((row) => {
    const count = counts.get(parent[row]) ?? 0;
    counts.set(parent[row], count + 1);
    return count;
  });
}

function changerOf({ how, find = '', replace = '', where, suffix }: RenameParameters): (name: string) => string {
  if (how === 'suffixes') return (name) => withoutSuffixes(name, suffix === 'numbers');
  return (name) => replacedIn(name, { find, replace, where: where ?? 'anywhere' });
}

/** Changes each distinct name once. */
function eachName(edit: SceneEditor, concerned: Int32Array, change: (name: string) => string): void {
  const { nodes } = edit.scene;
  const { name } = nodes.columns;
  const made = new Map<number, string | undefined>();
  for (const row of concerned) {
    const old = name[row];
    if (!made.has(old)) {
      const before = nodes.tables.texts.get(old);
      const after = change(before).trim();
      // A row without any name could not be found again.
      made.set(old, after === before || after === '' ? undefined : after);
    }
    const next = made.get(old);
    if (next !== undefined) edit.rename(row, next);
  }
}

function makeUnique(edit: SceneEditor, concerned: Int32Array, { among }: RenameParameters): void {
  const { nodes } = edit.scene;
  const { kind, parent } = nodes.columns;
  const chosen = new Set(concerned);
  const groups = new Map<number, number[]>();
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE) continue;
    const group = among === 'siblings' ? parent[row] : -1;
    const known = groups.get(group);
    if (known) known.push(row);
    else groups.set(group, [row]);
  }
  for (const members of groups.values()) {
    const names = members.map((row) => nodes.text('name', row));
    for (const [index, made] of uniqueNames(names, (i) => chosen.has(members[i]))) edit.rename(members[index], made);
  }
}
