/** Step: rename rows, parts or assemblies. The name as received is kept beside the new one. */
import { object, string } from 'yup';
import { ASSEMBLY, PART } from '../scene/nodes.ts';
import { eachRow } from './kind.ts';
import type { StepKind } from './kind.ts';

export interface RenameParameters {
  /** The new name; `{name}` stands for the old one, `{n}` for a number counted from 1. */
  name: string;
  /** The rows that the rule names themselves, or the parts or assemblies at and below them. */
  of: 'picked' | 'parts' | 'assemblies';
}

export const renameStep: StepKind<RenameParameters> = {
  kind: 'rename',
  title: 'Rename',
  version: 2,
  needs: 'manifest',
  schema: object({
    name: string().trim().required('Give a name.').max(1000),
    of: string()
      .oneOf(['picked', 'parts', 'assemblies'] as const)
      .required(),
  }),
  defaults: { name: '{name}', of: 'picked' },

  summary: ({ name }) => `“${name}”`,
  themselves: ({ of }) => of === 'picked',

  apply(edit, rows, { name, of }) {
    const { nodes } = edit.scene;
    const { kind } = nodes.columns;
    const counted = name.includes('{n}');
    let n = 0;
    eachRow(edit.scene, rows, (row) => {
      if ((of === 'parts' && kind[row] !== PART) || (of === 'assemblies' && kind[row] !== ASSEMBLY)) return;
      n++;
      const pattern = counted ? name.replaceAll('{n}', String(n)) : name;
      edit.rename(
        row,
        pattern.replaceAll('{name}', () => nodes.text('name', row)),
      );
    });
    return { pending: 0, problems: [] };
  },
};
