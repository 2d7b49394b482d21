<script setup lang="ts">
/**
 * What can be done at a station, drawn from the kinds of step that say they belong there: one is open, the others are a line each; where
 * there are many, those of a topic are folded into one line that names them. A kind has the form that its fields make, or one of its
 * own: the file in `forms/` that is called like it.
 */
import { computed, reactive } from 'vue';
import type { Component } from 'vue';
import type { StepKind } from '@noble-prism/core/steps/kind';
import { STEP_KINDS } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import ActionLine from '../parts/ActionLine.vue';
import { useJob } from '../stores/job.ts';
import { openAction, openActionOf } from './openAction.ts';
import StepForm from './StepForm.vue';
import { openStep } from './stepEdits.ts';

const props = defineProps<{
  station: string;
  stationTitle?: string;
  first?: string;
  /** A kind that the station itself shows. */
  except?: string;
}>();
const store = useJob();

const own = import.meta.glob<{ default: Component }>('./forms/*.vue', { eager: true });
const formOf = (kind: string): Component => own[`./forms/${kind}.vue`]?.default ?? StepForm;

const openKind = computed(() => store.steps.find(({ id }) => id === openStep.value)?.kind);
const kinds = computed(() =>
  [...STEP_KINDS.values()].filter(
    // What is begun at a source is shown while a step of it is open.
    ({ station, kind, begunThere }) =>
      station === props.station && kind !== props.except && (!begunThere || kind === openKind.value),
  ),
);
/** Kinds of one topic that stand together. */
const topics = computed(() => {
  const out: { topic: string; kinds: StepKind[] }[] = [];
  for (const kind of kinds.value) {
    const last = out.at(-1);
    if (last && last.topic === (kind.topic ?? '')) last.kinds.push(kind);
    else out.push({ topic: kind.topic ?? '', kinds: [kind] });
  }
  return out;
});
/** More topics than these would be a long list of lines. */
const FEW = 3;
const folds = computed(() => topics.value.length > FEW);
/** Topics that somebody unfolded; the one of the open action is unfolded anyway. */
const unfolded = reactive(new Set<string>());
const isUnfolded = ({ topic, kinds }: { topic: string; kinds: StepKind[] }) =>
  !folds.value || kinds.length === 1 || unfolded.has(topic) || kinds.some(({ kind }) => kind === open.value);
const titlesOf = (kinds: readonly StepKind[]) => kinds.map(({ title }) => title).join(', ');

function fold(group: { topic: string; kinds: StepKind[] }): void {
  if (!isUnfolded(group)) return void unfolded.add(group.topic);
  unfolded.delete(group.topic);
  if (group.kinds.some(({ kind }) => kind === open.value)) openAction(props.station, undefined);
}

function notes(kinds: readonly StepKind[]): string {
  const count = store.steps.filter((step) => kinds.some(({ kind }) => kind === step.kind)).length;
  return count === 0 ? '' : counted(count, 'step');
}

const open = computed(() => {
  const first = props.first ?? (folds.value ? undefined : kinds.value[0]?.kind);
  const chosen = openActionOf(props.station, first);
  // What was open for a step that is closed by now is no action of the station.
  return chosen === undefined || kinds.value.some(({ kind }) => kind === chosen) ? chosen : first;
});

function note(kind: string): string {
  const steps = store.steps.filter((step) => step.kind === kind);
  if (steps.length === 0) return '';
  const isOpen = steps.some(({ id }) => id === openStep.value);
  return isOpen && steps.length === 1 ? 'open step' : `${counted(steps.length, 'step')}${isOpen ? ', one open' : ''}`;
}

function toggle(kind: string): void {
  openAction(props.station, open.value === kind ? undefined : kind);
}
</script>

<template>
  <!-- What is called like its station needs no line that says so again. -->
  <component
    :is="formOf(kinds[0].kind)"
    v-if="kinds.length === 1 && kinds[0].title === stationTitle"
    :kind="kinds[0].kind"
  />
  <template v-else>
    <template v-for="group in topics" :key="group.topic">
      <h3 v-if="folds && group.kinds.length > 1" class="topic">
        <button :aria-expanded="isUnfolded(group)" @click="fold(group)">
          <span class="caps">{{ group.topic }}</span>{{ ' ' }}
          <span v-if="!isUnfolded(group)" class="quiet note">{{ notes(group.kinds) }}</span>
          <svg viewBox="0 0 8 8" aria-hidden="true">
            <path :d="isUnfolded(group) ? 'M0.5 2h7L4 7z' : 'M2 0.5v7L7 4z'" fill="currentColor" />
          </svg>
          <!-- What is said is what is seen, with a colon where the line is broken. -->
          <span class="unseen">: {{ isUnfolded(group) ? titlesOf(group.kinds) : '' }}</span>
          <span v-if="!isUnfolded(group)" class="titles quiet">{{ titlesOf(group.kinds) }}</span>
        </button>
      </h3>
      <h3 v-else-if="group.topic && group.kinds.length > 1" class="caps heading">{{ group.topic }}</h3>
      <template v-if="isUnfolded(group)">
        <ActionLine
          v-for="{ kind, title, purpose } in group.kinds"
          :key="kind"
          :title="title"
          :hint="purpose"
          :note="note(kind)"
          :open="kind === open"
          :reveals="kind === openKind"
          :class="{ inner: folds && group.kinds.length > 1 }"
          @toggle="toggle(kind)"
        >
          <component :is="formOf(kind)" :kind="kind" />
        </ActionLine>
      </template>
    </template>
  </template>
</template>

<style scoped>
.topic {
  margin: 0;
  font: inherit;
  border-top: 1px solid var(--rule);
}
.topic button {
  display: grid;
  grid-template-columns: minmax(0, 1fr) max-content 8px;
  align-items: baseline;
  gap: 1px 8px;
  width: 100%;
  padding: 7px 0;
  background: none;
  border: 0;
  text-align: left;
  cursor: pointer;
}
.topic button:hover .caps {
  color: var(--iris);
}
.topic svg {
  width: 8px;
  height: 8px;
  grid-column: 3;
  color: var(--ink-2);
}
.note,
.titles {
  font-size: 12px;
}
.titles {
  grid-column: 1 / 3;
}
.inner {
  margin-left: 10px;
}
.heading {
  margin-top: 14px;
}
</style>
