/** The finish schedule that is shown: its rules, what they take hold of, and how they are changed. */
import { computed, onBeforeUnmount, watch } from 'vue';
import type { ComputedRef } from 'vue';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import { ALL } from '@noble-prism/core/select/select';
import type { FinishesParameters, FinishRule } from '@noble-prism/core/steps/finishes';
import { finishesStep } from '@noble-prism/core/steps/finishes';
import { newStep } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { ScheduleLine } from '@noble-prism/core/finish/schedule';
import type { Scheduled } from '../../evaluation/client.ts';
import { useLibrary } from '../../stores/library.ts';
import { useJob } from '../../stores/job.ts';
import type { ChangeSteps } from '../../stores/saving.ts';
import { useSelection } from '../../stores/selection.ts';
import { copiesFor } from './ownInJob.ts';
import { newId, openStep, withEdited, withStep } from '../stepEdits.ts';

export type ChangeRules = (rules: readonly FinishRule[]) => readonly FinishRule[];

export interface ShownSchedule {
  /** Its step, tried or saved; none as long as no rule is there. */
  step: ComputedRef<Step | undefined>;
  /** All schedules of the job, of which mostly there is one. */
  all: ComputedRef<Step[]>;
  /** As they are shown: with what is tried. */
  rules: ComputedRef<readonly FinishRule[]>;
  /** What they take hold of, as soon as it is known. */
  counts: ComputedRef<Scheduled | undefined>;
  line(index: number): ScheduleLine | undefined;
  /** The scene that the rules are about. */
  before: ComputedRef<Scene>;
  /** True while something is shown that is not applied. */
  tried: ComputedRef<boolean>;
  /** Changes the rules, as one version. */
  change(note: string, make: ChangeRules): void;
  /** Shows what a change would do, or (where none is given) what is. */
  tryOut(make?: ChangeRules): void;
}

const rulesOf = (step: Step | undefined): readonly FinishRule[] =>
  (step?.parameters as FinishesParameters | undefined)?.rules ?? [];

const ownIn = (step: Step | undefined): readonly OwnMaterial[] =>
  (step?.parameters as FinishesParameters | undefined)?.own ?? [];

export function useSchedule(): ShownSchedule {
  const store = useJob();
  const selection = useSelection();
  const all = computed(() => store.applied.filter(({ kind }) => kind === 'finishes'));
  const step = computed(() => all.value.find(({ id }) => id === openStep.value) ?? all.value[0]);
  /** Id of the first schedule, while it is tried out and then. */
  let freshId = newId();

  const watched = computed(() => {
    const [row] = selection.ids.length === 1 ? selection.ids : [];
    return { ...(step.value ? { step: step.value.id } : {}), ...(row === undefined ? {} : { row }) };
  });
  watch(watched, (next) => store.watchSchedule(next), { immediate: true });
  onBeforeUnmount(() => {
    store.watchSchedule();
    tryOut();
  });

  const counts = computed(() => {
    const { scheduled } = store;
    return scheduled && scheduled.watch.step === step.value?.id ? scheduled : undefined;
  });
  const rules = computed(() => rulesOf(step.value));

  function changing(make: ChangeRules): ChangeSteps {
    const id = step.value?.id ?? freshId;
    return (steps) => {
      const now = steps.find((one) => one.id === id);
      // Plain data: what is watched by the page is not kept.
      const next = JSON.parse(JSON.stringify(make(rulesOf(now)))) as FinishRule[];
      const given = next.map(({ material }) => material);
      const own = copiesFor(given, ownIn(now), useLibrary().own);
      const parameters = { rules: next, ...(own.length > 0 ? { own } : {}) };
      if (now) return withEdited(id, { parameters })(steps);
      return withStep(newStep(id, 'finishes', ALL, parameters))(steps);
    };
  }

  function change(note: string, make: ChangeRules): void {
    store.change(note, changing(make));
    freshId = newId();
  }

  function tryOut(make?: ChangeRules): void {
    store.tryOut(make && { step: step.value?.id ?? freshId, title: finishesStep.title, make: changing(make) });
  }

  return {
    step,
    all,
    rules,
    counts,
    // Of another number of rules are those that were there before a change.
    line: (index) => (counts.value?.lines.length === rules.value.length ? counts.value.lines[index] : undefined),
    before: computed(() => counts.value?.before ?? (store.base.nodes.rows > 0 ? store.base : EMPTY_SCENE)),
    tried: computed(() => store.trial !== undefined && all.value.some(({ id }) => id === store.trial?.step)),
    change,
    tryOut,
  };
}
