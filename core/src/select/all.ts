/** Rule: everything. */
import { matching } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface AllRule {
  by: 'all';
}

export const allRule: RuleKind<AllRule> = {
  by: 'all',
  title: 'everything',
  purpose: 'All rows that are there.',
  fields: {},
  defaults: {},

  describe: () => 'everything',
  select: ({ nodes }) => matching(nodes, () => true),
};
