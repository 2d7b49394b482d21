/** Rule: rows picked by hand, by their keys, with what is below them. */
import { wordsSchema } from '../fields/field.ts';
import { factsOf } from '../scene/facts.ts';
import { Rows } from '../scene/rowSet.ts';
import { withDescendants } from '../scene/tree.ts';
import { counted } from '../units.ts';
import type { RuleKind } from './rule.ts';

export interface PickedRule {
  by: 'picked';
  /** `source:/path/of/names`, with an ordinal among equals. */
  keys: string[];
}

/** The name of a row as its key has it: the last of its path, without what tells equals and what a step made. */
function nameIn(key: string): string {
  const last = key.split('/').at(-1) ?? key;
  const made = /:\+(?:group |handle |join )?(.+)$/u.exec(last)?.[1] ?? last;
  return made.split('\u001f')[0].replace(/^[\w-]+:(?=.)/u, '');
}

export const pickedRule: RuleKind<PickedRule> = {
  by: 'picked',
  title: 'what is selected',
  purpose: 'Rows picked by hand, and what is below them.',
  fields: {
    keys: {
      type: 'own',
      label: 'Rows',
      schema: wordsSchema(),
      written:
        'a list of keys: source, and path of names, with an ordinal among equals; a path alone (`/Station/Fence`) is that of the first source that has it',
    },
  },
  defaults: { keys: [] },

  describe: ({ keys }) => (keys.length === 1 ? nameIn(keys[0]) : `${counted(keys.length, 'picked', 'picked')}`),

  select(scene, { keys }, { themselves }) {
    const mask = new Uint8Array(scene.nodes.rows);
    const facts = factsOf(scene);
    for (const key of keys) {
      const row = facts.rowOf(key);
      if (row !== undefined) mask[row] = 1;
    }
    const rows = new Rows(mask);
    return themselves ? rows : withDescendants(scene, rows);
  },
};
