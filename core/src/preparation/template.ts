/** Steps on their way from one job to another: what they say of a source, they say there of the source with the same file name. */
import { mapRules } from '../select/select.ts';
import { between, movedRule, toSlots } from './moving.ts';
import type { Moving, NamedSource } from './moving.ts';
import type { Field } from '../fields/field.ts';
import type { Spot } from '../scene/spot.ts';
import { STEP_KINDS } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';

export type { NamedSource } from './moving.ts';

/**
 * The same steps for another job. Rules about a source that is not there stay as they are and find nothing, which their reports say; keys
 * of picked rows lead to the rows of the same path.
 */
export function stepsFor(steps: readonly Step[], from: readonly NamedSource[], to: readonly NamedSource[]): Step[] {
  return movedSteps(steps, between(from, to));
}

/** Slots that some steps say something of. */
export function slotsIn(steps: readonly Step[]): Set<string> {
  const found = new Set<string>();
  const noting = toSlots((slot) => {
    found.add(slot);
    return slot;
  });
  movedSteps(steps, noting);
  return found;
}

/** The steps with all that they say of sources and rows said otherwise. */
export function movedSteps(steps: readonly Step[], moving: Moving): Step[] {
  return steps.map((step) => ({
    ...step,
    selector: mapRules(step.selector, (rule) => movedRule(rule, moving)),
    parameters: movedRows(step, moving),
  }));
}

/** Parameters that name a row by its key, or a point on one, lead to the row of the same path too. */
function movedRows({ kind, parameters }: Step, moving: Moving): object {
  const spec = STEP_KINDS.get(kind);
  if (spec?.mapRules) return spec.mapRules(parameters, (rule) => movedRule(rule, moving));
  if (spec?.mapKeys) return spec.mapKeys(parameters, moving.key);
  const fields = Object.entries((spec?.fields ?? {}) as Record<string, Field<object>>);
  const there = fields.flatMap(([name, { type }]): [string, unknown][] => {
    const value = (parameters as Record<string, unknown>)[name];
    if (type === 'row' && typeof value === 'string') return [[name, moving.key(value)]];
    const spot = type === 'spot' ? (value as Spot | undefined) : undefined;
    return spot?.on === undefined ? [] : [[name, { ...spot, on: moving.key(spot.on) }]];
  });
  return there.length === 0 ? parameters : { ...parameters, ...Object.fromEntries(there) };
}
