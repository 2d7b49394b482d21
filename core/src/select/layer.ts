/** Rule: rows on layers, by their names. */
import { factsOf } from '../scene/facts.ts';
import { offersOf, withWord } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface LayerRule {
  by: 'layer';
  layers: string[];
}

export const layerRule: RuleKind<LayerRule> = {
  by: 'layer',
  title: 'layer',
  purpose: 'What is on one of some layers.',
  fields: { layers: { type: 'words', label: 'Layers' } },
  defaults: { layers: [] },

  describe: ({ layers }) => `layer ${layers.join(', ')}`,
  select: ({ nodes }, { layers }) => withWord(nodes, nodes.columns.layer, layers),
  words: ({ layers }) => ({ column: 'layer', of: layers }),
  offers: (scene) => offersOf(factsOf(scene).wordsIn('layer')),
};
