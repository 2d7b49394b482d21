/** The copies that a job has of own materials: changed in all its schedules at once. */
import { OWN } from '@noble-prism/core/finish/library/own';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { ChangeSteps } from '../../stores/saving.ts';

const ownIn = ({ parameters }: Step): readonly OwnMaterial[] => (parameters as { own?: OwnMaterial[] }).own ?? [];

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

/** Copies of the own materials among some ids: those that are known, and those of the library for what is new. */
export function copiesFor(
  ids: Iterable<string>,
  known: readonly OwnMaterial[],
  library: readonly OwnMaterial[],
): OwnMaterial[] {
  const of = (list: readonly OwnMaterial[], id: string) => list.find(({ material }) => material.id === id);
  return [...new Set(ids)].flatMap((id) => (id.startsWith(OWN) ? (of(known, id) ?? of(library, id) ?? []) : []));
}
