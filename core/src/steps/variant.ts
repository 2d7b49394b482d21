/** Step: say in which of its sets of materials a source is shown, where its file holds several. */
import { object, string } from 'yup';
import { changeNodes } from './kind.ts';
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

  apply(scene, nodes, { variant }) {
    const sources = new Set(scene.nodes.flatMap(({ id, source }) => (nodes.has(id) ? [source] : [])));
    const known = scene.sources.filter(({ id, variants }) => sources.has(id) && variants?.includes(variant));
    const problems = known.length > 0 ? [] : [`No source here has a variant “${variant}” any more.`];
    const { scene: next, changed } = changeNodes(scene, nodes, (node) => {
      const materials = node.variants?.[variant];
      return materials ? { ...node, materials } : node;
    });
    const other = known.filter((source) => source.variant !== variant);
    const shown = next.sources.map((source) => (other.includes(source) ? { ...source, variant } : source));
    return { scene: other.length > 0 ? { ...next, sources: shown } : next, changed, pending: 0, problems };
  },
};
