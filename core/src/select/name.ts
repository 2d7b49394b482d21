/** Rule: rows by their names, and what is below them. */
import { withDescendants } from '../scene/tree.ts';
import { nameTest, patternProblem } from './patterns.ts';
import { matching } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface NameRule {
  by: 'name';
  pattern: string;
  /** The name in the source, or (where absent) the name at this step. */
  as?: 'received';
  /** Only what is called so, without what is below it. */
  reach?: 'itself';
}

export const nameRule: RuleKind<NameRule> = {
  by: 'name',
  title: 'name',
  purpose:
    'What is called so, and what is below it; * stands for anything, ? for one character, /…/ is a regular expression.',
  fields: {
    pattern: {
      type: 'text',
      label: 'Name',
      most: 300,
      help: '* stands for anything, ? for one character; a regular expression stands between slashes: /^W-\\d+/.',
      check: patternProblem,
    },
    as: {
      type: 'choice',
      label: 'Which name',
      choices: [
        { value: undefined, label: 'at this step' },
        { value: 'received', label: 'as received' },
      ],
    },
    reach: {
      type: 'choice',
      label: 'How far',
      choices: [
        { value: undefined, label: 'with what is below' },
        { value: 'itself', label: 'itself only' },
      ],
    },
  },
  defaults: { pattern: '*' },

  describe: ({ pattern, as }) => `${as === 'received' ? 'received as' : 'named'} ${pattern}`,

  select(scene, { pattern, as, reach }, { themselves }) {
    const { nodes } = scene;
    const matches = nameTest(nodes.tables.texts, pattern);
    const column = as === 'received' ? nodes.columns.received : nodes.columns.name;
    const rows = matching(nodes, (row) => matches(column[row]));
    return themselves || reach === 'itself' ? rows : withDescendants(scene, rows);
  },
};
