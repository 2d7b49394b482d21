/** Rule: what stands in storeys of a building, by their names. */
import { factsOf } from '../scene/facts.ts';
import { GONE } from '../scene/nodes.ts';
import type { NodeTable } from '../scene/nodes.ts';
import { withDescendants } from '../scene/tree.ts';
import { matching, offersOf } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface StoreyRule {
  by: 'storey';
  /** Names as received: a storey keeps its meaning when it is called otherwise. */
  storeys: string[];
}

/** Class of storeys in ISO 16739-1 (IFC). */
const STOREY = 'IfcBuildingStorey';

const isStorey = ({ tables, columns }: NodeTable) => {
  const word = tables.words.find(STOREY);
  return (row: number) => word > 0 && columns.class[row] === word;
};

export const storeyRule: RuleKind<StoreyRule> = {
  by: 'storey',
  title: 'storey',
  purpose: 'What stands in one of some storeys of a building.',
  fields: { storeys: { type: 'words', label: 'Storeys' } },
  defaults: { storeys: [] },

  describe: ({ storeys }) => `storey ${storeys.join(', ')}`,

  select(scene, { storeys }, { themselves }) {
    const { nodes } = scene;
    const isOne = isStorey(nodes);
    const wanted = new Set(storeys);
    const rows = matching(nodes, (row) => isOne(row) && wanted.has(nodes.text('received', row)));
    return themselves ? rows : withDescendants(scene, rows);
  },

  offers(scene) {
    const { nodes } = scene;
    if (!factsOf(scene).wordsIn('class').includes(STOREY)) return [];
    const isOne = isStorey(nodes);
    const names = new Set<string>();
    for (let row = 0; row < nodes.rows; row++)
      if (isOne(row) && nodes.columns.kind[row] !== GONE) names.add(nodes.text('received', row));
    return offersOf(names);
  },
};
