/** What is chosen for one source: what of it is left out, and in which unit it is read. Kept as steps at the head of the preparation. */
import type { Selector } from '@noble-prism/core/select/select';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { UnitParameters } from '@noble-prism/core/steps/unit';
import { UP_AXES } from '@noble-prism/core/steps/up';
import type { UpAxis, UpParameters } from '@noble-prism/core/steps/up';
import type { VariantParameters } from '@noble-prism/core/steps/variant';
import { useJob } from '../../stores/job.ts';
import { changeSteps } from '../stepEdits.ts';

/** What of a source is left out. */
export interface LeftOut {
  layers: string[];
  classes: string[];
  keys: string[];
}

/** The rule of a source: `and [source, or [layers, classes, picked]]`. */
function ruleFor(source: string, { layers, classes, keys }: LeftOut): Selector {
  const of: Selector[] = [
    ...(layers.length ? [{ by: 'layer', layers } as const] : []),
    ...(classes.length ? [{ by: 'class', classes } as const] : []),
    ...(keys.length ? [{ by: 'picked', keys } as const] : []),
  ];
  return {
    by: 'and',
    of: [
      { by: 'source', sources: [source] },
      { by: 'or', of },
    ],
  };
}

/** The step that this panel keeps for a source; steps with other rules are left alone. */
export function leftOut(steps: readonly Step[], source: string): { step?: Step; left: LeftOut } {
  for (const step of steps) {
    const { selector } = step;
    if (step.kind !== 'leave-out' || selector.by !== 'and' || selector.of.length !== 2) continue;
    const [from, which] = selector.of;
    if (from.by !== 'source' || from.sources.join() !== source || which.by !== 'or') continue;
    const left: LeftOut = { layers: [], classes: [], keys: [] };
    for (const rule of which.of) {
      if (rule.by === 'layer') left.layers.push(...rule.layers);
      if (rule.by === 'class') left.classes.push(...rule.classes);
      if (rule.by === 'picked') left.keys.push(...rule.keys);
    }
    return { step, left };
  }
  return { left: { layers: [], classes: [], keys: [] } };
}

export function leaveOut(source: string, left: LeftOut): void {
  const { step } = leftOut(useJob().steps, source);
  const isEmpty = left.layers.length + left.classes.length + left.keys.length === 0;
  if (step && isEmpty) changeSteps.remove(step.id);
  else if (step) changeSteps.edit(step.id, { selector: ruleFor(source, left) });
  else if (!isEmpty) changeSteps.add('leave-out', ruleFor(source, left), {});
}

function stepFor(kind: string, steps: readonly Step[], source: string): Step | undefined {
  return steps.find(
    (step) => step.kind === kind && step.selector.by === 'source' && step.selector.sources.join() === source,
  );
}

export function unitStepOf(steps: readonly Step[], source: string): Step | undefined {
  return stepFor('unit', steps, source);
}

/** What a source was said to be by a step of this kind; undefined where it is taken as it comes. */
function chosen<P>(kind: string, steps: readonly Step[], source: string): P | undefined {
  const step = stepFor(kind, steps, source);
  return step?.on ? (step.parameters as P) : undefined;
}

function choose(kind: string, source: string, parameters: object | undefined): void {
  const step = stepFor(kind, useJob().steps, source);
  if (step && parameters === undefined) changeSteps.remove(step.id);
  // What is chosen holds, also where the step for it had been switched off.
  else if (step && parameters) changeSteps.edit(step.id, { parameters, on: true });
  else if (parameters) changeSteps.add(kind, { by: 'source', sources: [source] }, parameters);
}

/** Axes that may be up instead of one. */
export function otherUpAxes(axis: UpAxis): { value: UpAxis; label: string }[] {
  return UP_AXES.filter((other) => other !== axis).map((other) => ({
    value: other,
    label: other.startsWith('-') ? `${other.slice(1)} points down` : other,
  }));
}

/** Whether the lines of a source that repeat its solids are taken too. */
export function wiresTaken(steps: readonly Step[], source: string): boolean {
  return chosen('wires', steps, source) !== undefined;
}

export function takeWires(source: string, taken: boolean): void {
  choose('wires', source, taken ? {} : undefined);
}

export function upChosen(steps: readonly Step[], source: string): UpAxis | undefined {
  return chosen<UpParameters>('up', steps, source)?.axis;
}

/** Says which axis of a source is up; nothing takes it as it comes. */
export function chooseUp(source: string, axis: UpAxis | undefined): void {
  choose('up', source, axis && { axis });
}

export function variantChosen(steps: readonly Step[], source: string): string | undefined {
  return chosen<VariantParameters>('variant', steps, source)?.variant;
}

/** Says in which of its sets of materials a source is shown; nothing shows it as it comes. */
export function chooseVariant(source: string, variant: string | undefined): void {
  choose('variant', source, variant === undefined ? undefined : { variant });
}

/** Reads a source larger by a factor than it declares; a factor of one takes the step away. */
export function readLarger(source: string, factor: number, reason: string): void {
  const step = unitStepOf(useJob().steps, source);
  const parameters: UnitParameters = { factor, reason };
  if (step && Math.abs(factor - 1) < 1e-12) changeSteps.remove(step.id);
  else if (step) changeSteps.edit(step.id, { parameters });
  else if (Math.abs(factor - 1) >= 1e-12) changeSteps.add('unit', { by: 'source', sources: [source] }, parameters);
}
