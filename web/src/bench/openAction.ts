/** Which action is open at each station: one at a time. */
import { reactive, watch } from 'vue';
import { STEP_KINDS } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';
import { openStep } from './stepEdits.ts';

/** By station; nothing where none is. */
const opened = reactive(new Map<string, string | undefined>());

/** The action that is open at a station, or that with which it opens. */
export function openActionOf(station: string, first: string | undefined): string | undefined {
  return opened.has(station) ? opened.get(station) : first;
}

export function openAction(station: string, action: string | undefined): void {
  opened.set(station, action);
}

/** A step that is opened somewhere opens the action that it is made by, at its station. Called once by the bench. */
export function followOpenStep(go: (station: string) => void): void {
  const store = useJob();
  watch(openStep, (id) => {
    const kind = STEP_KINDS.get(store.steps.find((step) => step.id === id)?.kind ?? '');
    if (!kind) return;
    openAction(kind.station, kind.kind);
    go(kind.station);
  });
}
