/** Step: rename rows, parts or assemblies. The name as received is kept beside the new one. */
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
    // Names that are made of others are as many as these: each is made once, and looked for among no others.
    const parts = name.split('{name}');
    const made = new Int32Array(counted ? 0 : nodes.tables.texts.length);
    let n = 0;
    eachRow(edit.scene, rows, (row) => {
      if (!isConcerned(row)) return;
      n++;
      let number = counted ? 0 : made[names[row]];
      if (number === 0) {
        const before = nodes.text('name', row);
        const next = kept ? parts.join(before) : name;
        const text = counted ? next.replaceAll('{n}', String(n)) : next;
        number = text === before ? names[row] : edit.newName(text);
        if (!counted) made[names[row]] = number;
      }
      edit.setName(row, number);
    });
    return { pending: 0, problems: [] };
  },
});
