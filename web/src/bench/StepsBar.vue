<script setup lang="ts">
import { nextTick, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { formatCount } from '@noble-prism/core/units';
import { stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';
import { describeSelector } from '@noble-prism/core/select/select';
import { STATION_OF_STEP } from './stations.ts';
import { changeSteps, openStep } from './stepEdits.ts';
import { troublesOf } from './stepTroubles.ts';

const store = useJob();
const router = useRouter();
const dragged = ref<string>();
const target = ref<number>();

const sourceName = (id: string) => store.sources.find((source) => source.id === id)?.name ?? id;
function summary(step: Step): string {
  const what = stepKind(step.kind).summary(step.parameters);
  return step.selector.by === 'all' ? what : `${what}, ${describeSelector(step.selector, { source: sourceName })}`;
}

function report(step: Step) {
  return store.evaluation?.reports.find((entry) => entry.id === step.id);
}

function tip(step: Step): string {
  const entry = report(step);
  if (!step.on) return 'Switched off';
  if (!entry) return '';
  const lines = [
    `Changed ${formatCount(entry.changed)} of ${formatCount(entry.matched)} rows; ${formatCount(entry.triangles)} triangles after it`,
  ];
  if (entry.pending) lines.push(`${formatCount(entry.pending)} parts still being computed`);
  lines.push(...troublesOf(entry, false).slice(0, 5));
  return lines.join('\n');
}

const troubled = (step: Step) => troublesOf(report(step), store.base.nodes.length === 0).length > 0;

function open(step: Step): void {
  openStep.value = openStep.value === step.id ? undefined : step.id;
  void router.replace({ name: 'bench', params: { job: store.job?.id, station: STATION_OF_STEP[step.kind] } });
}

function key(event: KeyboardEvent, step: Step): void {
  if (event.key === 'Delete' || event.key === 'Backspace') changeSteps.remove(step.id);
  else if (event.altKey && event.key === 'ArrowLeft') changeSteps.move(step.id, -1);
  else if (event.altKey && event.key === 'ArrowRight') changeSteps.move(step.id, 1);
  else return;
  event.preventDefault();
  event.stopPropagation();
}

/** A wheel that turns up and down moves the strip along, where it is longer than the window. */
const strip = ref<HTMLElement>();
function scroll(event: WheelEvent): void {
  if (!strip.value || event.deltaX !== 0 || strip.value.scrollWidth <= strip.value.clientWidth) return;
  strip.value.scrollLeft += event.deltaY;
  event.preventDefault();
}
// A step that is opened elsewhere, or added, comes into sight.
watch([openStep, () => store.steps.length], async ([id, count], [, before]) => {
  await nextTick();
  const index = count > (before ?? count) ? count - 1 : store.steps.findIndex((step) => step.id === id);
  strip.value?.children[index]?.scrollIntoView({ inline: 'nearest', block: 'nearest' });
});

function drop(index: number): void {
  const from = store.steps.findIndex((step) => step.id === dragged.value);
  if (from >= 0) changeSteps.move(store.steps[from].id, (index > from ? index - 1 : index) - from);
  dragged.value = target.value = undefined;
}

function over(event: DragEvent, index: number): void {
  if (!dragged.value) return;
  event.preventDefault();
  const { left, width } = (event.currentTarget as HTMLElement).getBoundingClientRect();
  target.value = event.clientX > left + width / 2 ? index + 1 : index;
}
</script>

<template>
  <footer class="steps" aria-label="Steps">
    <span class="quiet label">Steps</span>
    <ol ref="strip" @wheel="scroll">
      <li
        v-for="(step, index) in store.steps"
        :key="step.id"
        :class="{
          open: openStep === step.id,
          off: !step.on,
          before: target === index,
          after: target === index + 1 && index === store.steps.length - 1,
        }"
        draggable="true"
        @dragstart="dragged = step.id"
        @dragend="dragged = target = undefined"
        @dragover="over($event, index)"
        @drop.stop.prevent="drop(target ?? index)"
      >
        <input
          type="checkbox"
          :checked="step.on"
          :aria-label="`${stepKind(step.kind).title}: switched on`"
          :title="step.on ? 'Switch off' : 'Switch on'"
          @change="changeSteps.toggle(step.id)"
        />
        <button
          class="words"
          :title="tip(step)"
          :aria-expanded="openStep === step.id"
          @click="open(step)"
          @keydown="key($event, step)"
        >
          <b>{{ stepKind(step.kind).title }}<i v-if="troubled(step)" class="warn" aria-label="has problems"> !</i></b
          ><span>{{ summary(step) }}</span>
        </button>
        <span v-if="openStep === step.id" class="tools">
          <button
            class="plain"
            :disabled="index === 0"
            aria-label="Move earlier"
            title="Move earlier (Alt ←)"
            @click="changeSteps.move(step.id, -1)"
          >
            ‹
          </button>
          <button
            class="plain"
            :disabled="index === store.steps.length - 1"
            aria-label="Move later"
            title="Move later (Alt →)"
            @click="changeSteps.move(step.id, 1)"
          >
            ›
          </button>
          <button
            class="plain bad"
            aria-label="Delete step"
            title="Delete step (Del)"
            @click="changeSteps.remove(step.id)"
          >
            ×
          </button>
        </span>
      </li>
      <li v-if="!store.steps.length" class="none quiet">No steps: the sources as they came. Add one at a station.</li>
    </ol>
    <div class="history">
      <button class="plain" :disabled="!store.canUndo" title="Undo (Ctrl Z)" @click="store.move('undo')">Undo</button>
      <button class="plain" :disabled="!store.canRedo" title="Redo (Ctrl Shift Z)" @click="store.move('redo')">
        Redo
      </button>
    </div>
  </footer>
</template>

<style scoped>
.steps {
  display: flex;
  align-items: stretch;
  border-top: 1px solid var(--rule);
  height: 46px;
  min-width: 0;
}
.label {
  padding: 0 14px;
  align-self: center;
}
ol {
  display: flex;
  flex: 1;
  min-width: 0;
  overflow-x: auto;
  scrollbar-width: thin;
}
li {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 0 10px;
  border-left: 1px solid var(--rule);
  border-top: 2px solid transparent;
  flex: none;
  max-width: 220px;
}
li.open {
  max-width: 360px;
}
li:last-of-type {
  border-right: 1px solid var(--rule);
}
li.open {
  background: var(--raised);
  border-top-color: var(--iris);
}
li.before {
  box-shadow: inset 2px 0 var(--iris);
}
li.after {
  box-shadow: inset -2px 0 var(--iris);
}
li.off .words {
  color: var(--ink-2);
  text-decoration: line-through;
}
li.none {
  flex: none;
  max-width: none;
}
input {
  accent-color: var(--ink);
  margin: 0;
  width: 12px;
  height: 12px;
}
.words {
  display: grid;
  min-width: 0;
  background: none;
  border: 0;
  padding: 2px 4px;
  cursor: pointer;
  text-align: left;
  line-height: 1.3;
}
.words span {
  color: var(--ink-2);
  font-size: 12px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.words b {
  font-weight: 600;
}
.tools {
  display: flex;
}
.history {
  display: flex;
  align-items: center;
  padding: 0 10px;
  gap: 4px;
}
</style>
