/** Edits of the list of steps, each one version that can be undone. */
import { ref } from 'vue';
import { newStep, placeFor, titleOf, withSteps } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import type { Selector } from '@noble-prism/core/select/select';
import { useJob } from '../stores/job.ts';
import type { ChangeSteps } from '../stores/saving.ts';

/** The step that is open in its station, by id. */
export const openStep = ref<string>();

const title = (kind: string) => titleOf({ kind });

/** `Turn`, or how many where they are several. */
const named = (steps: readonly Step[]) => (steps.length === 1 ? title(steps[0].kind) : counted(steps.length, 'step'));

export const changeSteps = {
  /** Adds a step where its kind belongs. Returns its id. @param id its own, where it was tried out before */
  add(kind: string, selector: Selector, parameters: object, id = newId()): string {
    useJob().change(`${title(kind)} added`, withStep(newStep(id, kind, selector, parameters)));
    return id;
  },

  /** Adds steps that were made elsewhere. */
  addAll(added: readonly Step[], note: string): void {
    // Made again where the save is refused: under the same ids.
    const ids = added.map(newId);
    useJob().change(note, (steps) => {
      let next = 0;
      return withSteps(steps, added, () => ids[next++]);
    });
  },

  edit(id: string, changes: Partial<Pick<Step, 'parameters' | 'selector' | 'on'>>): void {
    const step = useJob().steps.find((candidate) => candidate.id === id);
    if (!step) return;
    useJob().change(`${title(step.kind)} edited`, withEdited(id, changes));
  },

  toggle(id: string): void {
    const step = useJob().steps.find((candidate) => candidate.id === id);
    if (step) changeSteps.switchAll([id], !step.on);
  },

  /** Switches steps on or off, as one change. */
  switchAll(ids: readonly string[], on: boolean): void {
    const concerned = among(ids).filter((step) => step.on !== on);
    if (concerned.length === 0) return;
    const which = new Set(ids);
    useJob().change(`${named(concerned)} switched ${on ? 'on' : 'off'}`, (steps) =>
      steps.map((step) => (which.has(step.id) ? { ...step, on } : step)),
    );
  },

  remove(id: string): void {
    changeSteps.removeAll([id]);
  },

  removeAll(ids: readonly string[]): void {
    const concerned = among(ids);
    if (concerned.length === 0) return;
    const which = new Set(ids);
    if (openStep.value && which.has(openStep.value)) openStep.value = undefined;
    useJob().change(`${named(concerned)} deleted`, (steps) => steps.filter((step) => !which.has(step.id)));
  },

  /** Moves a step by some places; at the ends it stays. */
  move(id: string, by: number): void {
    changeSteps.moveAll([id], by);
  },

  /** Moves steps together by some places, in their order; none goes beyond an end. */
  moveAll(ids: readonly string[], by: number): void {
    const concerned = among(ids);
    const moved = movedBy(useJob().steps, ids, by);
    if (concerned.length === 0 || moved.every((step, i) => step === useJob().steps[i])) return;
    useJob().change(`${named(concerned)} moved`, (steps) => movedBy(steps, ids, by));
  },
};

/** Steps with one more, where its kind belongs. */
export const withStep =
  (step: Step): ChangeSteps =>
  (steps) =>
    steps.toSpliced(placeFor(step.kind, steps), 0, step);

/** Steps of which one is different. */
export const withEdited =
  (id: string, changes: Partial<Pick<Step, 'parameters' | 'selector' | 'on'>>): ChangeSteps =>
  (steps) =>
    steps.map((step) => (step.id === id ? { ...step, ...changes } : step));

/** Of a step. */
export const newId = (): string => crypto.randomUUID().slice(0, 12);

/** The steps with these ids, in their order. */
function among(ids: readonly string[]): Step[] {
  const which = new Set(ids);
  return useJob().steps.filter(({ id }) => which.has(id));
}

/** The list with some steps moved: they end together, the first of them so many places from where it was. */
function movedBy(steps: readonly Step[], ids: readonly string[], by: number): Step[] {
  const which = new Set(ids);
  const moved = steps.filter(({ id }) => which.has(id));
  const rest = steps.filter(({ id }) => !which.has(id));
  // Up from the first of them, down from the last.
  const edge = by < 0 ? steps.indexOf(moved[0]) : steps.indexOf(moved[moved.length - 1]) - moved.length + 1;
  return rest.toSpliced(Math.max(0, Math.min(rest.length, edge + by)), 0, ...moved);
}
