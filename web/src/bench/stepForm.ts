/** The form of a kind of step: edits the step that is open, or gathers what a new one needs. */
import { computed, onBeforeUnmount, reactive, ref, watch } from 'vue';
import { checked } from '@noble-prism/core/fields/field';
import { newStep, stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Selector } from '@noble-prism/core/select/select';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import { changeSteps, newId, openStep, withEdited, withStep } from './stepEdits.ts';

export interface StepFormOptions {
  /** Without a step opened by hand, edit the first step of the kind that is there. */
  single?: boolean;
  /** What is set is shown before it is applied, where that needs no heavy work. */
  previewed?: boolean;
}

/** Parameters as text, in whatever order their members stand. */
const textOf = (parameters: object) => JSON.stringify(Object.entries(parameters).sort(([a], [b]) => (a < b ? -1 : 1)));

/** What of a step a form shows. */
const contentOf = ({ id, parameters, selector }: Step) =>
  JSON.stringify([id, textOf(parameters), JSON.stringify(selector)]);

export function useStepForm<P extends object>(
  kind: string,
  { single = false, previewed = false }: StepFormOptions = {},
) {
  const store = useJob();
  const selection = useSelection();
  const spec = stepKind(kind);
  const { defaults, schema } = spec;
  /** What the rule counts, at these parameters. */
  const counts = computed(() => spec.counts?.(parameters) ?? 'parts');
  // A new step follows the selection until somebody says otherwise; what concerns whole sources, or all solids, does not.
  const followSelection = !single && spec.counts?.(defaults) !== 'sources';
  const parameters = reactive({ ...defaults }) as P;
  const selector = ref<Selector>({ by: 'all' });
  const chosen = ref(false);
  const error = ref('');
  /** What is missing or wrong, while nobody has asked for it to be applied. */
  const lacks = ref('');
  /** What is wrong with what was typed into fields, by their names: it is not in the parameters. */
  const wrong = reactive(new Map<string, string>());
  /** A further step is being gathered although there is one of the kind. */
  const adding = ref(false);

  /** Step that was added here last, while nothing else is begun. */
  const added = ref<string>();
  const addedReport = computed(() => {
    const found = store.evaluation?.reports.find(({ id }) => id === added.value);
    return editing.value === undefined && found && found.problems.length > 0 ? found : undefined;
  });
  const editing = computed(() => {
    const steps = store.steps.filter((step) => step.kind === kind);
    return steps.find((step) => step.id === openStep.value) ?? (single && !adding.value ? steps[0] : undefined);
  });
  /** Id that the step has while it is tried out, and keeps. */
  let freshId = newId();
  const tried = computed(() => store.trial !== undefined && store.trial.step === (editing.value?.id ?? freshId));
  const report = computed(() => {
    const id = editing.value?.id ?? (tried.value ? freshId : undefined);
    return store.evaluation?.reports.find((entry) => entry.id === id);
  });
  /** The parameters that the view shows the work of; nothing where it shows none. */
  const shown = computed(() => {
    if (tried.value) return { ...parameters } as P;
    return editing.value?.on ? (editing.value.parameters as P) : undefined;
  });
  const changed = computed(
    () =>
      editing.value !== undefined &&
      (textOf(editing.value.parameters) !== textOf(parameters) ||
        JSON.stringify(editing.value.selector) !== JSON.stringify(selector.value)),
  );

  watch(
    () => editing.value,
    (step, before) => {
      // The same step, told anew by the server: what was typed in the meantime stays.
      if (step && before && contentOf(step) === contentOf(before)) return;
      if (previewed) store.tryOut();
      const next = step ? step.parameters : defaults;
      // What only some steps of a kind have must not stay behind.
      for (const key of Object.keys(parameters)) if (!(key in next)) delete parameters[key as keyof P];
      Object.assign(parameters, next);
      selector.value = step ? step.selector : followSelection ? selection.selector : { by: 'all' };
      chosen.value = false;
      lacks.value = error.value = '';
      wrong.clear();
      if (step) adding.value = false;
    },
    { immediate: true },
  );
  watch(
    () => selection.selector,
    (next) => {
      if (!editing.value && followSelection && !chosen.value) selector.value = next;
    },
  );

  function choose(next: Selector): void {
    chosen.value = true;
    selector.value = next;
    if (previewed) preview();
  }

  /** The parameters as they would be saved; nothing where something is wrong with them, which is said. */
  function valid(): object | undefined {
    lacks.value = error.value = '';
    // It is said where it was typed.
    if (wrong.size > 0) return undefined;
    try {
      checked(schema, { ...parameters });
    } catch (thrown) {
      lacks.value = (thrown as Error).message;
      return undefined;
    }
    return JSON.parse(JSON.stringify(parameters)) as object;
  }

  /** What it concerns; everything where no rule is asked for. */
  const rule = computed<Selector>(() => (spec.whole?.(parameters) ? { by: 'all' } : selector.value));

  /** What needs heavy work is computed when it is asked for, and goes on to be shown from then on. */
  const isLight = computed(() => !spec.work || spec.needsWork?.(parameters as never) === false);
  /** Shows what the step would do, before it is applied. @param asked by somebody, not by a change of the form */
  function preview(asked = false): void {
    if (!asked && !isLight.value && !tried.value) return;
    const copy = valid();
    if (!copy) return store.tryOut();
    // What is selected in the preview may not be there before it.
    chosen.value = true;
    const step = editing.value;
    const make = step
      ? withEdited(step.id, { parameters: copy, selector: rule.value })
      : withStep(newStep(freshId, kind, rule.value, copy));
    store.tryOut({ step: step?.id ?? freshId, title: spec.title, make });
  }

  /** Saves the open step, or adds a new one. */
  function save(): void {
    const copy = valid();
    if (!copy) {
      error.value = lacks.value || [...wrong.values()][0];
      return;
    }
    if (editing.value) changeSteps.edit(editing.value.id, { parameters: copy, selector: rule.value });
    else {
      const id = changeSteps.add(kind, rule.value, copy, freshId);
      added.value = id;
      freshId = newId();
      // Where one step is always open, that is now the new one.
      if (single) openStep.value = id;
    }
    adding.value = false;
    chosen.value = false;
  }

  /** Sets parameters, which are then shown as one; undefined takes one away. */
  function setAll(values: Record<string, unknown>): void {
    added.value = undefined;
    for (const [name, value] of Object.entries(values))
      if (value === undefined) delete parameters[name as keyof P];
      else Object.assign(parameters, { [name]: value });
    if (previewed) preview();
  }
  const set = (name: string, value: unknown) => setAll({ [name]: value });

  /** What cannot be read shows nothing, and is not applied as what stood there before. @param words empty where it can be read */
  function setWrong(name: string, words: string): void {
    if (words) wrong.set(name, words);
    else wrong.delete(name);
    if (previewed) preview();
  }

  onBeforeUnmount(() => {
    if (tried.value) store.tryOut();
  });

  return {
    spec,
    counts,
    set,
    setAll,
    setWrong,
    parameters,
    selector,
    editing,
    report,
    shown,
    changed,
    error,
    lacks,
    /** Id of what is tried out, where something is. */
    tried: computed(() => (tried.value ? store.trial?.step : undefined)),
    togglePreview: () => (tried.value ? store.tryOut() : preview(true)),
    choose,
    save,
    close: () => {
      openStep.value = undefined;
      adding.value = single;
    },
    adding,
    /** What the step that was added last says, where it could not do what it was to do. */
    addedReport,
  };
}
