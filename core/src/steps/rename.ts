/** Step: rename rows, parts or assemblies. The name as received is kept beside the new one. */
import { object, string } from 'yup';
import { changeNodes } from './kind.ts';
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

  apply(scene, nodes, { name, of }) {
    let n = 0;
    const result = changeNodes(scene, nodes, (node) => {
      if ((of === 'parts' && node.kind !== 'part') || (of === 'assemblies' && node.kind !== 'assembly')) return node;
      n++;
      const next = name.replaceAll('{n}', String(n)).replaceAll('{name}', node.name);
      return next === node.name ? node : { ...node, name: next, received: node.received ?? node.name };
    });
    return { ...result, pending: 0, problems: [] };
  },
};
