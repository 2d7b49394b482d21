/** A rule about a material that only later steps make: it goes into a schedule behind them, which is made where there is none. */
import { ALL } from '@noble-prism/core/select/select';
import type { FinishesParameters, FinishRule } from '@noble-prism/core/steps/finishes';
import { newStep } from '@noble-prism/core/steps/kinds';
import type { ChangeSteps } from '../../stores/saving.ts';
import { withStep } from '../stepEdits.ts';

/** Kinds that make materials of others. */
const MAKERS = new Set(['own-materials', 'textures']);

/** @param id of the schedule where one has to be made */
export function withLaterRule(rule: FinishRule, id: string): ChangeSteps {
  return (steps) => {
    const made = steps.findLastIndex(({ kind }) => MAKERS.has(kind));
    const at = steps.findLastIndex(({ kind }) => kind === 'finishes');
    if (at < 0 || at < made) return withStep(newStep(id, 'finishes', ALL, { rules: [rule] }))(steps);
    const { rules } = steps[at].parameters as FinishesParameters;
    return steps.with(at, { ...steps[at], parameters: { rules: [...rules, rule] } });
  };
}
