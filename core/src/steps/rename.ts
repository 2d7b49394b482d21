/** Step: rename rows, parts or assemblies. The name as received is kept beside the new one. */
import type { NameMaker } from '../scene/texts.ts';
import { ASSEMBLY, PART } from '../scene/nodes.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export interface RenameParameters {
  /** The new name; `{name}` stands for the old one, `{n}` for a number counted from 1. */
  name: string;
  /** The rows that the rule names themselves, or the parts or assemblies at and below them. */
  of: 'picked' | 'parts' | 'assemblies';
}

export const renameStep = defineStep<RenameParameters>({
  kind: 'rename',
  title: 'Rename',
  purpose: 'Gives rows, parts or assemblies another name; the name as received is kept beside it.',
  also: ['name', 'label', 'number', 'count'],
  act: 'Set names',
  station: 'arrange',
  topic: 'Names',
  place: WHEREVER,
  version: 2,
  needs: 'manifest',
  fields: {
    name: {
      type: 'text',
      label: 'New name',
      most: 1000,
      help: '{name} is the old name, {n} counts from 1.',
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

  summary: ({ name }) => `“${name}”`,
  counts: ({ of }) => (of === 'picked' ? 'rows' : of),
  themselves: ({ of }) => of === 'picked',

  apply(edit, rows, { name, of }) {
    const { nodes } = edit.scene;
    const { kind, name: names } = nodes.columns;
    const [counted, kept] = [name.includes('{n}'), name.includes('{name}')];
    const isConcerned = (row: number) =>
      !((of === 'parts' && kind[row] !== PART) || (of === 'assemblies' && kind[row] !== ASSEMBLY));
    if (!counted && !kept) {
      eachRow(edit.scene, rows, (row) => {
        if (isConcerned(row)) edit.rename(row, name);
      });
      return { pending: 0, problems: [] };
    }
    if (name === '{name}') return { pending: 0, problems: [] };
    // What is made of other names is written out when somebody reads it; without a counter, equal names stay one.
    const made = nameMaker(name);
    const concerned = new Int32Array(rows.size);
    let count = 0;
    eachRow(edit.scene, rows, (row) => {
      if (isConcerned(row)) concerned[count++] = row;
    });
    const olds = new Int32Array(count);
    /** What each older name becomes, as its place in `olds`; -1 for none so far. */
    const known = new Int32Array(counted ? 0 : nodes.tables.texts.length).fill(-1);
    let length = 0;
    for (let i = 0; i < count; i++) {
      const old = names[concerned[i]];
      if (!counted && known[old] >= 0) continue;
      if (!counted) known[old] = length;
      olds[length++] = old;
    }
    const first = edit.newNames(olds.subarray(0, length), made);
    for (let i = 0; i < count; i++) {
      const row = concerned[i];
      // A counter may arrive at the name that is there.
      if (counted && !kept && made('', i) === nodes.text('name', row)) continue;
      edit.setName(row, first + (counted ? i : known[names[row]]));
    }
    return { pending: 0, problems: [] };
  },
});

/** Makes new names of old ones: `{name}` is the old one, `{n}` its number, counted from 1. */
function nameMaker(template: string): NameMaker {
  const [start, ...rest] = template.split(/(\{name\}|\{n\})/);
  const make = (name: string, index: number) => {
    let out = start;
    for (let i = 0; i < rest.length; i += 2) out += (rest[i] === '{n}' ? String(index + 1) : name) + rest[i + 1];
    return out;
  };
  return Object.assign(make, { start, goesOn: rest[0] === '{name}' });
}
