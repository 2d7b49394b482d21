/** Step: say in which of its sets of materials a source is shown, where its file holds several. */
import { defineStep, eachRow } from './kind.ts';

export interface VariantParameters {
  /** Name of the variant as the file has it. */
  variant: string;
}

export const variantStep = defineStep<VariantParameters>({
  kind: 'variant',
  title: 'Variant',
  purpose: 'Shows a source in one of the sets of materials that its file holds.',
  also: ['materials', 'configuration', 'colourway'],
  station: 'receive',
  begunThere: true,
  place: 50,
  version: 1,
  needs: 'manifest',
  fields: { variant: { type: 'text', label: 'Variant', most: 300, help: 'Its name, as the file has it.' } },
  defaults: { variant: '' },

  counts: () => 'sources',
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
});
