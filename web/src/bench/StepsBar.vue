<script setup lang="ts">
/** The strip of steps: those of the station first, then what else fits; how many there are in all stands at its end. */
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { counted, formatCount } from '@noble-prism/core/units';
import { useJob } from '../stores/job.ts';
import { useActions } from './actions.ts';
import { stationName } from './stations.ts';
import { changeSteps, openStep } from './stepEdits.ts';
import { stationFirst, useStepLines } from './stepLines.ts';
import type { StepLine } from './stepLines.ts';

const props = defineProps<{ station: string }>();
const store = useJob();
const router = useRouter();
const actions = useActions();
const lines = useStepLines();
const strip = ref<HTMLElement>();
const width = ref(1000);

/** Pixels of a step, of one that is open, and of the name of a station. */
const STEP = 136;
const OPEN = 250;
const NAME = 72;

const ordered = computed(() => stationFirst(lines.value, props.station));
/** As many as fit; the one that is open is always among them. */
const shown = computed(() => {
  let station = '';
  const isOpen = ({ step }: StepLine) => step.id === openStep.value;
  let left = width.value - (ordered.value.some(isOpen) ? OPEN : 0);
  const out: { line: StepLine; begins: boolean }[] = [];
  for (const line of ordered.value) {
    const begins = line.station !== station;
    left -= (isOpen(line) ? 0 : STEP) + (begins ? NAME : 0);
    if (left < 0 && !isOpen(line)) continue;
    out.push({ line, begins });
    ({ station } = line);
  }
  return out;
});
const rest = computed(() => {
  const there = new Set(shown.value.map(({ line }) => line));
  return ordered.value.filter((line) => !there.has(line));
});
const restIsTroubled = computed(() => rest.value.some(({ troubles }) => troubles.length > 0));

let watcher: ResizeObserver | undefined;
onMounted(() => {
  watcher = new ResizeObserver(([entry]) => (width.value = entry.contentRect.width));
  if (strip.value) watcher.observe(strip.value);
});
onBeforeUnmount(() => watcher?.disconnect());

function tip({ step, report, rule, troubles }: StepLine): string {
  if (!step.on) return `Switched off; ${rule}`;
  if (!report) return rule;
  const said = [
    rule,
    `Changed ${formatCount(report.changed)} of ${counted(report.matched, 'row')}; ${counted(report.triangles, 'triangle')} after it`,
  ];
  if (report.pending) said.push(`${counted(report.pending, 'part')} still being computed`);
  return [...said, ...troubles.slice(0, 5)].join('\n');
}

function open({ step, station }: StepLine): void {
  openStep.value = openStep.value === step.id ? undefined : step.id;
  void router.replace({ name: 'bench', params: { job: store.job?.id, station } });
}

function key(event: KeyboardEvent, { step }: StepLine): void {
  if (event.key === 'Delete' || event.key === 'Backspace') changeSteps.remove(step.id);
  else if (event.altKey && event.key === 'ArrowLeft') changeSteps.move(step.id, -1);
  else if (event.altKey && event.key === 'ArrowRight') changeSteps.move(step.id, 1);
  else return;
  event.preventDefault();
  event.stopPropagation();
}

const showAll = () =>
  actions()
    .find(({ id }) => id === 'sheet')
    ?.run();
</script>

<template>
  <footer class="steps" aria-label="Steps">
    <button class="plain label" title="All steps (S)" @click="showAll">
      Steps <span class="quiet">{{ lines.length }}</span>
    </button>
    <div ref="strip" class="strip" role="list">
      <template v-for="{ line, begins } in shown" :key="line.step.id">
        <span v-if="begins" class="station quiet">{{ stationName(line.station) }}</span>
        <div class="step" role="listitem" :class="{ open: openStep === line.step.id, off: !line.step.on }">
          <input
            type="checkbox"
            :checked="line.step.on"
            :aria-label="`${line.title}: switched on`"
            :title="line.step.on ? 'Switch off' : 'Switch on'"
            @change="changeSteps.toggle(line.step.id)"
          />
          <button
            class="words"
            :title="tip(line)"
            :aria-expanded="openStep === line.step.id"
            @click="open(line)"
            @keydown="key($event, line)"
          >
            <span class="head"
              ><span class="number">{{ line.number }}</span> <b>{{ line.title }}</b
              ><i v-if="line.troubles.length" class="warn" aria-label="has problems"> !</i></span
            ><span class="said">{{
              line.step.selector.by === 'all' ? line.summary : `${line.summary}, ${line.rule}`
            }}</span>
          </button>
          <span v-if="openStep === line.step.id" class="tools">
            <button
              class="plain"
              :disabled="line.number === 1"
              aria-label="Move earlier"
              title="Move earlier (Alt ←)"
              @click="changeSteps.move(line.step.id, -1)"
            >
              ‹
            </button>
            <button
              class="plain"
              :disabled="line.number === lines.length"
              aria-label="Move later"
              title="Move later (Alt →)"
              @click="changeSteps.move(line.step.id, 1)"
            >
              ›
            </button>
            <button
              class="plain bad"
              aria-label="Delete step"
              title="Delete step (Del)"
              @click="changeSteps.remove(line.step.id)"
            >
              ×
            </button>
          </span>
        </div>
      </template>
      <p v-if="!lines.length" class="none quiet">No steps: the sources as they came. Add one at a station.</p>
    </div>
    <button v-if="rest.length" class="plain rest" title="All steps (S)" @click="showAll">
      and {{ rest.length }} more<i v-if="restIsTroubled" class="warn" aria-label="has problems"> !</i>
    </button>
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
  white-space: nowrap;
}
.strip {
  display: flex;
  flex: 1;
  min-width: 0;
  overflow: hidden;
}
.station {
  display: flex;
  align-items: center;
  flex: none;
  width: 72px;
  padding-left: 10px;
  border-left: 1px solid var(--rule);
  font-size: 11px;
}
.step {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 0 8px;
  border-top: 2px solid transparent;
  flex: none;
  width: 136px;
}
.step.open {
  width: 250px;
  background: var(--raised);
  border-top-color: var(--iris);
}
.step.off .words {
  color: var(--ink-2);
  text-decoration: line-through;
}
.none {
  align-self: center;
}
input {
  margin: 0;
  width: 12px;
  height: 12px;
  flex: none;
}
.words {
  display: grid;
  flex: 1;
  min-width: 0;
  background: none;
  border: 0;
  padding: 2px 4px;
  cursor: pointer;
  text-align: left;
  line-height: 1.3;
}
.head,
.said {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.said {
  color: var(--ink-2);
  font-size: 12px;
}
.number {
  color: var(--ink-2);
  font-size: 11px;
}
.words b {
  font-weight: 600;
}
.tools {
  display: flex;
}
.rest {
  border-left: 1px solid var(--rule);
  padding: 0 12px;
  white-space: nowrap;
}
.history {
  display: flex;
  align-items: center;
  padding: 0 10px;
  gap: 4px;
  border-left: 1px solid var(--rule);
}
</style>
