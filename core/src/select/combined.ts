/** Rules made of rules: all of them hold, one of them, or none. */
import { mixed } from 'yup';
import { matching } from './rule.ts';
import type { RuleKind } from './rule.ts';
import type { CombinedRule } from './selector.ts';

type Test = (sets: readonly Uint8Array[], row: number) => boolean;

const fields: RuleKind<CombinedRule>['fields'] = {
  // How deep rules may be nested is known by who checks: see `rules.ts`.
  of: { type: 'own', label: 'Rules', schema: mixed().required(), written: 'a list of rules, at most 50' },
};

function combined<B extends CombinedRule['by']>(
  words: Pick<RuleKind<CombinedRule<B>>, 'by' | 'title' | 'purpose' | 'describe'>,
  holds: Test,
): RuleKind<CombinedRule<B>> {
  return {
    ...words,
    fields,
    defaults: { of: [] },
    select(scene, { of }, { inner }) {
      const sets = of.map((selector) => inner(selector).mask);
      return matching(scene.nodes, (row) => holds(sets, row));
    },
  };
}

export const andRule = combined<'and'>(
  {
    by: 'and',
    title: 'all of these',
    purpose: 'What several rules all name.',
    describe({ of }, _, inner) {
      // Which source is meant is plain from the rest.
      const rest = of.filter(({ by }) => by !== 'source');
      return (rest.length > 0 ? rest : of).map(inner).join(' and ');
    },
  },
  (sets, row) => sets.every((set) => set[row] === 1),
);

export const orRule = combined<'or'>(
  {
    by: 'or',
    title: 'any of these',
    purpose: 'What at least one of several rules names.',
    describe: ({ of }, _, inner) => of.map(inner).join(' or '),
  },
  (sets, row) => sets.some((set) => set[row] === 1),
);

export const notRule = combined<'not'>(
  {
    by: 'not',
    title: 'none of these',
    purpose: 'All but what some rules name.',
    describe: ({ of }, _, inner) => `not (${of.map(inner).join(', ')})`,
  },
  (sets, row) => !sets.some((set) => set[row] === 1),
);
