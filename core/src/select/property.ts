/** Rule: rows with a property, as their source has it. */
import { nameMatcher, patternProblem } from './patterns.ts';
import { matching } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface PropertyRule {
  by: 'property';
  /** Name and value, `*` and `?` as in patterns of names. */
  name: string;
  value: string;
}

export const propertyRule: RuleKind<PropertyRule> = {
  by: 'property',
  title: 'property',
  purpose: 'What has a property of this name and value in its source; * stands for anything.',
  fields: {
    name: {
      type: 'text',
      label: 'Property',
      most: 300,
      help: 'Its name with that of its set; * stands for anything.',
      check: patternProblem,
    },
    value: { type: 'text', label: 'Value', most: 300, help: '* stands for anything.', check: patternProblem },
  },
  defaults: { name: '*', value: '*' },

  describe: ({ name, value }) => `${name} = ${value}`,

  select({ nodes }, { name, value }) {
    const [isName, isValue] = [nameMatcher(name), nameMatcher(value)];
    const { lists, words } = nodes.tables;
    const has = new Uint8Array(lists.length);
    for (let number = 1; number < lists.length; number++) {
      const list = lists.get(number);
      for (let i = 0; i + 1 < list.length && has[number] === 0; i += 2)
        if (isName(words.get(list[i])) && isValue(words.get(list[i + 1]))) has[number] = 1;
    }
    return matching(nodes, (row) => has[nodes.columns.properties[row]] === 1);
  },
};
