/** Rule: all of some sources. */
import { offersOf, withWord } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface SourceRule {
  by: 'source';
  /** Ids of slots. */
  sources: string[];
}

export const sourceRule: RuleKind<SourceRule> = {
  by: 'source',
  title: 'source',
  purpose: 'All that came with one of some sources.',
  fields: { sources: { type: 'words', label: 'Sources' } },
  defaults: { sources: [] },

  describe: ({ sources }, { source }) => sources.map(source).join(', '),
  select: ({ nodes }, { sources }) => withWord(nodes, nodes.columns.source, sources),
  words: ({ sources }) => ({ column: 'source', of: sources }),
  offers: ({ sources }, { source }) =>
    offersOf(
      sources.map(({ id }) => id),
      source,
    ),
};
