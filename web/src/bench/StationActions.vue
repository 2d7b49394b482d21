<script setup lang="ts">
/**
 * What can be done at a station, drawn from the kinds of step that say they belong there: one is open, the others are a line each. A
 * kind has the form that its fields make, or one of its own: the file in `forms/` that is called like it.
 */
import { computed } from 'vue';
import type { Component } from 'vue';
import { STEP_KINDS } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import ActionLine from '../parts/ActionLine.vue';
import { useJob } from '../stores/job.ts';
import { openAction, openActionOf } from './openAction.ts';
import StepForm from './StepForm.vue';
import { openStep } from './stepEdits.ts';

const props = defineProps<{ station: string; stationTitle?: string; first?: string }>();
const store = useJob();

const own = import.meta.glob<{ default: Component }>('./forms/*.vue', { eager: true });
const formOf = (kind: string): Component => own[`./forms/${kind}.vue`]?.default ?? StepForm;

const openKind = computed(() => store.steps.find(({ id }) => id === openStep.value)?.kind);
const kinds = computed(() =>
  [...STEP_KINDS.values()].filter(
    // What is begun at a source is shown while a step of it is open.
    ({ station, kind, begunThere }) => station === props.station && (!begunThere || kind === openKind.value),
  ),
);
const open = computed(() => {
  const first = props.first ?? kinds.value[0]?.kind;
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
    <template v-for="({ kind, title, purpose, topic }, i) in kinds" :key="kind">
      <h3 v-if="topic && topic !== kinds[i - 1]?.topic" class="topic caps">{{ topic }}</h3>
      <ActionLine :title="title" :hint="purpose" :note="note(kind)" :open="kind === open" @toggle="toggle(kind)">
        <component :is="formOf(kind)" :kind="kind" />
      </ActionLine>
    </template>
  </template>
</template>

<style scoped>
.topic {
  margin-top: 14px;
}
.topic:first-of-type {
  margin-top: 4px;
}
</style>
