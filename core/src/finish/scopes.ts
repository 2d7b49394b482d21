/** A change of a material within a scope, as it is written into the rules: everywhere, on a layer, or on picked parts. */
import type { Selector } from '../select/selector.ts';
import { ruleOfLayer } from './byLayer.ts';
import type { FinishRule } from './rule.ts';

/** What is closer to the single part stands later and prevails. */
const RANKS: Record<Selector['by'], number> = { all: 0, source: 1, storey: 2, class: 2, layer: 3, material: 4, property: 5, size: 5, name: 6, not: 7, or: 7, and: 7, picked: 8 }; // prettier-ignore

/** The rules with one more, behind those that are as general as it is or more so. */
export function withRule(rules: readonly FinishRule[], rule: FinishRule): FinishRule[] {
  const rank = RANKS[rule.which.by];
  const at = rules.findLastIndex(({ which }) => RANKS[which.by] <= rank) + 1;
  return rules.toSpliced(at, 0, rule);
}

/**
 * Another material wherever one is shown: rules that give it give the other one, and what has it without a rule gets the other one too, in
 * a rule that all others prevail over.
 * @param has whether something has it before the schedule
 */
export function givenEverywhere(rules: readonly FinishRule[], from: string, to: string, has: boolean): FinishRule[] {
  const changed = rules.map((rule) => (rule.material === from ? { ...rule, material: to } : rule));
  if (!has) return changed;
  return [{ which: { by: 'material', materials: [from] }, material: to }, ...changed];
}

/** A material for a layer. Rules of parts of it that prevail over that of the layer still do. */
export function givenToLayer(rules: readonly FinishRule[], layer: string, to: string): FinishRule[] {
  const at = ruleOfLayer(rules, layer);
  const rule: FinishRule = { which: { by: 'layer', layers: [layer] }, material: to };
  if (at < 0) return withRule(rules, rule);
  const { which } = rules[at];
  const others = which.by === 'layer' ? which.layers.filter((name) => name !== layer) : [];
  if (others.length === 0) return rules.toSpliced(at, 1, { ...rules[at], ...rule });
  return rules.toSpliced(at, 1, { ...rules[at], which: { by: 'layer', layers: others } }, rule);
}

/** A material for picked rows, behind all other rules. Other rules about picked rows no longer name them. */
export function givenToRows(rules: readonly FinishRule[], keys: readonly string[], to: string): FinishRule[] {
  const given = new Set(keys);
  const rest = rules.flatMap((rule): FinishRule[] => {
    if (rule.which.by !== 'picked') return [rule];
    const left = rule.which.keys.filter((key) => !given.has(key));
    if (left.length === rule.which.keys.length) return [rule];
    return left.length === 0 ? [] : [{ ...rule, which: { by: 'picked', keys: left } }];
  });
  const last = rest.at(-1);
  if (last?.which.by === 'picked' && last.material === to && last.on !== false)
    return rest.toSpliced(-1, 1, { ...last, which: { by: 'picked', keys: [...last.which.keys, ...keys] } });
  return [...rest, { which: { by: 'picked', keys: [...keys] }, material: to }];
}
