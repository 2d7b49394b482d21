/** Edits of the list of steps, each one version that can be undone. */
import { ref } from 'vue';
import { stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Selector } from '@noble-prism/core/select/select';
import { useJob } from '../stores/job.ts';

/** The step that is open in its station, by id. */
export const openStep = ref<string>();

/** A rule about tessellation that came after a reduction would undo it. */
const TOGETHER = new Set(['tessellate']);

const title = (kind: string) => stepKind(kind).title;

export const changeSteps = {
  /** Adds a step: before all others, behind the last of those that have to stay together, or at the end. Returns its id. */
  add(kind: string, selector: Selector, parameters: object, first = false): string {
    const id = crypto.randomUUID().slice(0, 12);
    const step: Step = { id, kind, on: true, selector, parameters };
    useJob().change(`${title(kind)} added`, (steps) => {
      if (first) return [step, ...steps];
      const last = TOGETHER.has(kind) ? steps.findLastIndex((other) => other.kind === kind) : -1;
      return last < 0 ? [...steps, step] : [...steps.slice(0, last + 1), step, ...steps.slice(last + 1)];
    });
    return id;
  },

  edit(id: string, changes: Partial<Pick<Step, 'parameters' | 'selector' | 'on'>>): void {
    const step = useJob().steps.find((candidate) => candidate.id === id);
    if (!step) return;
    useJob().change(`${title(step.kind)} edited`, (steps) =>
      steps.map((other) => (other.id === id ? { ...other, ...changes } : other)),
    );
  },

  toggle(id: string): void {
    const step = useJob().steps.find((candidate) => candidate.id === id);
    if (!step) return;
    const on = !step.on;
    useJob().change(`${title(step.kind)} switched ${on ? 'on' : 'off'}`, (steps) =>
      steps.map((other) => (other.id === id ? { ...other, on } : other)),
    );
  },

  remove(id: string): void {
    const step = useJob().steps.find((candidate) => candidate.id === id);
    if (!step) return;
    if (openStep.value === id) openStep.value = undefined;
    useJob().change(`${title(step.kind)} deleted`, (steps) => steps.filter((other) => other.id !== id));
  },

  /** Moves a step by some places; at the ends it stays. */
  move(id: string, by: number): void {
    const { steps } = useJob();
    const from = steps.findIndex((step) => step.id === id);
    const to = Math.max(0, Math.min(steps.length - 1, from + by));
    if (from < 0 || from === to) return;
    useJob().change(`${title(steps[from].kind)} moved`, (list) => {
      const at = list.findIndex((step) => step.id === id);
      if (at < 0) return list;
      const rest = list.filter((step) => step.id !== id);
      rest.splice(Math.max(0, Math.min(rest.length, at + by)), 0, list[at]);
      return rest;
    });
  },
};
