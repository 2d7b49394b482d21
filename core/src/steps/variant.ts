/** Step: say in which of its sets of materials a source is shown, where its file holds several. */
import { object, string } from 'yup';
import { eachRow } from './kind.ts';
import type { StepKind } from './kind.ts';

export interface VariantParameters {
  /** Name of the variant as the file has it. */
  variant: string;
}

export const variantStep: StepKind<VariantParameters> = {
  kind: 'variant',
  title: 'Variant',
  version: 1,
  needs: 'manifest',
  schema: object({ variant: string().required('Choose a variant.').max(300) }),
  defaults: { variant: '' },

  summary: ({ variant }) => variant,

  apply(edit, rows, { variant }) {
    const { nodes, sources } = edit.scene;
    const concerned = new Set<number>();
    eachRow(edit.scene, rows, (row) => concerned.add(nodes.columns.source[row]));
    const ids = new Set([...concerned].map((word) => nodes.tables.words.get(word)));
    const known = sources.filter(({ id, variants }) => ids.has(id) && variants?.includes(variant));
    if (known.length === 0) return { pending: 0, problems: [`No source here has a variant “${variant}” any more.`] };
    eachRow(edit.scene, rows, (row) => {
      const materials = nodes.tables.extras[nodes.columns.extras[row]].variants?.[variant];
      if (materials) edit.setMaterials(row, materials);
    });
    edit.setSources(
      sources.map((source) => (known.includes(source) && source.variant !== variant ? { ...source, variant } : source)),
    );
    return { pending: 0, problems: [] };
  },
};
