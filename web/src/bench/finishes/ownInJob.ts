/** The copies that a job has of own materials: changed in all its schedules at once. */
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { FinishesParameters } from '@noble-prism/core/steps/finishes';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { ChangeSteps } from '../../stores/saving.ts';

const ownIn = ({ kind, parameters }: Step): readonly OwnMaterial[] =>
  kind === 'finishes' ? ((parameters as FinishesParameters).own ?? []) : [];

/** The copy that a job has; undefined where it uses none. */
export function copyIn(steps: readonly Step[], id: string): OwnMaterial | undefined {
  return steps.flatMap(ownIn).find(({ material }) => material.id === id);
}

/** Every copy of a material as it is now. */
export function withCopy(own: OwnMaterial): ChangeSteps {
  return (steps) =>
    steps.map((step) => {
      const list = ownIn(step);
      if (!list.some(({ material }) => material.id === own.material.id)) return step;
      const next = list.map((one) => (one.material.id === own.material.id ? own : one));
      return { ...step, parameters: { ...step.parameters, own: next } };
    });
}
