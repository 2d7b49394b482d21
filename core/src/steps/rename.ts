/** Step: rename parts or assemblies. */
import { object, string } from 'yup';
import { changeNodes } from './kind.ts';
import type { StepKind } from './kind.ts';

export interface RenameParameters {
  /** The new name; `{name}` stands for the old one, `{n}` for a number counted from 1. */
  name: string;
  /** The nodes picked themselves, or the parts below them too. */
  of: 'picked' | 'parts';
}

export const renameStep: StepKind<RenameParameters> = {
  kind: 'rename',
  title: 'Rename',
  version: 1,
  needs: 'manifest',
  schema: object({
    name: string().trim().required('Give a name.').max(1000),
    of: string()
      .oneOf(['picked', 'parts'] as const)
      .required(),
  }),
  defaults: { name: '{name}', of: 'picked' },

  summary: ({ name }) => `“${name}”`,

  apply(scene, nodes, { name, of }) {
    let n = 0;
    const result = changeNodes(scene, nodes, (node) => {
      // A picked assembly brings its parts along; only the topmost of what was picked is meant, unless parts were asked for.
      if (of === 'picked' ? node.parent !== null && nodes.has(node.parent) : node.kind !== 'part') return node;
      n++;
      const next = name.replaceAll('{n}', String(n)).replaceAll('{name}', node.name);
      return next === node.name ? node : { ...node, name: next };
    });
    return { ...result, pending: 0, problems: [] };
  },
};
