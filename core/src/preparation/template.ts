/** Steps on their way from one job to another: what they say of a source, they say there of the source with the same file name. */
import { mapRules } from '../select/select.ts';
import type { Selector } from '../select/select.ts';
import type { Field } from '../fields/field.ts';
import type { Spot } from '../scene/spot.ts';
import { STEP_KINDS } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';

/** A source as steps name it, and as people do. */
export interface NamedSource {
  /** Of the slot. */
  id: string;
  name: string;
}

/**
 * The same steps for another job. Rules about a source that is not there stay as they are and find nothing, which their reports say; keys
 * of picked rows lead to the rows of the same path.
 */
export function stepsFor(steps: readonly Step[], from: readonly NamedSource[], to: readonly NamedSource[]): Step[] {
  const slots = new Map<string, string>();
  for (const { id, name } of from) {
    const there = to.find((source) => source.name === name);
    if (there) slots.set(id, there.id);
  }
  return steps.map((step) => ({
    ...step,
    selector: mapRules(step.selector, (rule) => moved(rule, slots)),
    parameters: movedRows(step, slots),
  }));
}

/** Parameters that name a row by its key, or a point on one, lead to the row of the same path too. */
function movedRows({ kind, parameters }: Step, slots: ReadonlyMap<string, string>): object {
  const fields = Object.entries((STEP_KINDS.get(kind)?.fields ?? {}) as Record<string, Field<object>>);
  const there = fields.flatMap(([name, { type }]): [string, unknown][] => {
    const value = (parameters as Record<string, unknown>)[name];
    if (type === 'row' && typeof value === 'string') return [[name, movedKey(value, slots)]];
    const spot = type === 'spot' ? (value as Spot | undefined) : undefined;
    return spot?.on === undefined ? [] : [[name, { ...spot, on: movedKey(spot.on, slots) }]];
  });
  return there.length === 0 ? parameters : { ...parameters, ...Object.fromEntries(there) };
}

function movedKey(key: string, slots: ReadonlyMap<string, string>): string {
  const end = key.indexOf(':');
  return `${slots.get(key.slice(0, end)) ?? key.slice(0, end)}${key.slice(end)}`;
}

function moved(rule: Selector, slots: ReadonlyMap<string, string>): Selector {
  if (rule.by === 'source') return { ...rule, sources: rule.sources.map((id) => slots.get(id) ?? id) };
  if (rule.by !== 'picked') return rule;
  return { ...rule, keys: rule.keys.map((key) => movedKey(key, slots)) };
}
