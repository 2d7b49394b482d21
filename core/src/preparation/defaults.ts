/** The steps that a job begins with: tessellate for real time, and turn engineering's z up to y up. */
import { tessellateStep } from '../steps/tessellate.ts';
import type { TessellateParameters } from '../steps/tessellate.ts';
import { turnStep } from '../steps/turn.ts';
import type { Step } from '../steps/kinds.ts';
import { ALL } from '../select/select.ts';

export function defaultSteps(limits: Partial<TessellateParameters> = {}): Step[] {
  const own = Object.keys(limits).length > 0 ? { preset: 'own' } : {};
  return [
    {
      id: 's1',
      kind: tessellateStep.kind,
      on: true,
      selector: ALL,
      parameters: { ...tessellateStep.defaults, ...own, ...limits },
    },
    { id: 's2', kind: turnStep.kind, on: true, selector: ALL, parameters: turnStep.defaults },
  ];
}
