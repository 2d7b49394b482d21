/** Selectors: rules that say which parts a step concerns, so that it still works on the next revision. */
import { factsOf } from '../scene/facts.ts';
import type { Rows } from '../scene/rowSet.ts';
import type { Scene } from '../scene/types.ts';
import type { Known } from './rule.ts';
import { ruleKind } from './rules.ts';
import type { Selector } from './selector.ts';

export { ALL } from './selector.ts';
export type { Selector } from './selector.ts';

/**
 * The rows that a selector names. Picked assemblies, and those named by a pattern, bring what is below them, unless only the rows
 * `themselves` are meant.
 */
export function select(scene: Scene, selector: Selector, themselves = false): Rows {
  return ruleKind(selector.by).select(scene, selector, {
    themselves,
    inner: (rule) => select(scene, rule as Selector, themselves),
  });
}

const ANYBODY: Known = { source: (id) => `source ${id}`, material: (id) => id };

/** `everything`, `layer FASTENERS`, `named Motor*`, `3 picked`. @param known what things are called, by their ids */
export function describeSelector(selector: Selector, known: Partial<Known> = {}): string {
  const names = { ...ANYBODY, ...known };
  return ruleKind(selector.by).describe(selector, names, (inner) => describeSelector(inner as Selector, names));
}

/** Keys of picked rows that no node has any more: a step says so instead of dropping them. */
export function lostKeys(scene: Scene, selector: Selector): string[] {
  if (selector.by === 'picked') return selector.keys.filter((key) => factsOf(scene).rowOf(key) === undefined);
  return 'of' in selector ? selector.of.flatMap((inner) => lostKeys(scene, inner)) : [];
}

/** The rule with its innermost rules replaced. */
export function mapRules(selector: Selector, replace: (rule: Selector) => Selector): Selector {
  return 'of' in selector ? { ...selector, of: selector.of.map((rule) => mapRules(rule, replace)) } : replace(selector);
}
