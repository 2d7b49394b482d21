/** Rule: parts with some material, as it is at this step or as it was received. */
import type { Scene } from '../scene/types.ts';
import { GONE } from '../scene/nodes.ts';
import { matching, offersOf } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface MaterialRule {
  by: 'material';
  /** Ids. */
  materials: string[];
  /** The material that the source gave it, or (where absent) the one that it has at this step. */
  as?: 'received';
}

const columnOf = ({ nodes }: Scene, as: MaterialRule['as']) =>
  as === 'received' ? nodes.columns.receivedMaterials : nodes.columns.materials;

/** Numbers of the materials that a rule names, which lists hold one of them, and the column of these. */
export function wantedLists(scene: Scene, { materials, as }: MaterialRule) {
  const { lists, words } = scene.nodes.tables;
  const wanted = new Set(materials.map((material) => words.find(material)));
  const has = new Uint8Array(lists.length);
  for (let list = 0; list < lists.length; list++) if (lists.get(list).some((word) => wanted.has(word))) has[list] = 1;
  return { wanted, has, column: columnOf(scene, as) };
}

export const materialRule: RuleKind<MaterialRule> = {
  by: 'material',
  title: 'material',
  purpose: 'What has one of some materials on any of its faces.',
  fields: {
    materials: { type: 'words', label: 'Materials' },
    as: {
      type: 'choice',
      label: 'Which one',
      choices: [
        { value: undefined, label: 'as assigned by now' },
        { value: 'received', label: 'as received' },
      ],
    },
  },
  defaults: { materials: [] },

  describe: ({ materials, as }, { material }) =>
    `${as === 'received' ? 'received in' : 'material'} ${materials.map(material).join(', ')}`,

  select(scene, rule) {
    const { has, column } = wantedLists(scene, rule);
    return matching(scene.nodes, (row) => has[column[row]] === 1);
  },

  /** Of both: which of them is meant is chosen beside. */
  offers(scene, { material }) {
    const { nodes } = scene;
    const { lists, words } = nodes.tables;
    const used = new Uint8Array(lists.length);
    for (const as of [undefined, 'received'] as const) {
      const column = columnOf(scene, as);
      for (let row = 0; row < nodes.rows; row++) if (nodes.columns.kind[row] !== GONE) used[column[row]] = 1;
    }
    const found = new Set<string>();
    for (let list = 0; list < used.length; list++)
      if (used[list] === 1) for (const word of lists.get(list)) found.add(words.get(word));
    return offersOf(found, material);
  },
};
