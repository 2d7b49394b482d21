/** Rule: what stands in storeys of a building, by their names. */
import { GONE } from '../scene/nodes.ts';
import { oncePerNumber } from './patterns.ts';
import { matching, offersOf } from './rule.ts';
import type { RuleKind } from './rule.ts';
import { STOREY, storeysOf } from './storeyOf.ts';

export interface StoreyRule {
  by: 'storey';
  /** Names as received: a storey keeps its meaning when it is called otherwise. */
  storeys: string[];
}

export const storeyRule: RuleKind<StoreyRule> = {
  by: 'storey',
  title: 'storey',
  purpose: 'What stands in one of some storeys of a building.',
  fields: { storeys: { type: 'words', label: 'Storeys' } },
  defaults: { storeys: [] },

  describe: ({ storeys }) => `storey ${storeys.join(', ')}`,

  select({ nodes }, { storeys }, { themselves }) {
    const wanted = new Set(storeys);
    const storeyOf = storeysOf(nodes);
    const isWanted = oncePerNumber(nodes.tables.texts, (name) => wanted.has(name));
    const { received } = nodes.columns;
    return matching(nodes, (row) => {
      const storey = storeyOf[row];
      return storey >= 0 && (!themselves || storey === row) && isWanted(received[storey]);
    });
  },

  offers(scene) {
    const { nodes } = scene;
    if (nodes.tables.words.find(STOREY) <= 0) return [];
    const names = new Set<string>();
    const { kind, received } = nodes.columns;
    const seen = new Set<number>();
    storeysOf(nodes).forEach((storey, row) => {
      if (storey < 0 || kind[row] === GONE || seen.has(storey)) return;
      seen.add(storey);
      names.add(nodes.tables.texts.get(received[storey]));
    });
    return offersOf(names);
  },
};
