/** Rule: rows of classes, as building models have them. */
import { factsOf } from '../scene/facts.ts';
import { offersOf, withWord } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface ClassRule {
  by: 'class';
  classes: string[];
}

export const classRule: RuleKind<ClassRule> = {
  by: 'class',
  title: 'class',
  purpose: 'What is of one of some classes: walls, doors.',
  fields: { classes: { type: 'words', label: 'Classes' } },
  defaults: { classes: [] },

  describe: ({ classes }) => `class ${classes.join(', ')}`,
  select: ({ nodes }, { classes }) => withWord(nodes, nodes.columns.class, classes),
  words: ({ classes }) => ({ column: 'class', of: classes }),
  offers: (scene) => offersOf(factsOf(scene).wordsIn('class')),
};
