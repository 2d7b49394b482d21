<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { counted, formatCount, formatDeviation } from '@noble-prism/core/units';
import { lossesOf } from '@noble-prism/core/scene/inFull';
import { takeOff } from '@noble-prism/core/scene/facts';
import { worstDeviation } from '@noble-prism/core/scene/measured';
import { useJob } from '../stores/job.ts';
import { dark, turnSheet } from '../theme/sheetMode.ts';
import { progressWords } from './progressWords.ts';
import PrismMark from './PrismMark.vue';
import { sentState } from './transmit/sentState.ts';
import { STATIONS } from './stations.ts';

const props = defineProps<{ station: string }>();
const emit = defineEmits<{ help: []; find: [] }>();
const store = useJob();
const router = useRouter();
const figures = computed(() => takeOff(store.scene));
const rules = computed(() =>
  store.steps
    .filter((step) => step.kind === 'finishes' && step.on)
    .reduce((sum, step) => sum + (step.parameters as { rules: unknown[] }).rules.length, 0),
);
const worst = computed(() => worstDeviation(store.scene));

const notes = computed<Record<string, { text: string; tone?: string }>>(() => {
  const failed = store.sources.filter((source) => source.state === 'failed').length;
  const incomplete = store.base.sources.filter((source) => lossesOf(source).length > 0).length;
  const count = store.sources.length;
  const sent = store.job?.transmittals ?? [];
  return {
    receive: failed
      ? { text: `${failed} not readable`, tone: 'bad' }
      : incomplete > 0
        ? { text: `${incomplete} not in full`, tone: 'bad' }
        : { text: counted(count, 'source') },
    arrange: { text: counted(figures.value.parts, 'part') },
    finishes: { text: rules.value ? counted(rules.value, 'rule') : 'as received' },
    lighten: { text: worst.value === undefined ? 'not reduced' : `≤ ${formatDeviation(worst.value)} mm off` },
    transmit: sent.length
      ? { text: `${sent.length} sent, ${sentState(sent[0]).text}`, tone: sentState(sent[0]).tone }
      : { text: 'nothing sent' },
  };
});

const editing = ref(false);
const name = ref('');
function edit(): void {
  name.value = store.job?.name ?? '';
  editing.value = true;
}
function selectAll({ el }: { el: unknown }): void {
  (el as HTMLInputElement).focus();
  (el as HTMLInputElement).select();
}
function rename(): void {
  if (!editing.value) return;
  editing.value = false;
  const next = name.value.trim();
  if (next && next !== store.job?.name) void store.rename(next);
}

const task = computed(() => store.openTasks.find((candidate) => candidate.state === 'running') ?? store.openTasks[0]);
/** The clock by which the elapsed time is told: it goes on while a library says nothing. */
const now = ref(Date.now());
let clock: ReturnType<typeof setInterval> | undefined;
watch(
  () => task.value !== undefined,
  (working) => {
    clearInterval(clock);
    now.value = Date.now();
    if (working) clock = setInterval(() => (now.value = Date.now()), 1000);
  },
  { immediate: true },
);
onBeforeUnmount(() => clearInterval(clock));
const sending = computed(() => store.uploads[0]);

function go(id: string): void {
  void router.replace({ name: 'bench', params: { job: store.job?.id, station: id } });
}
</script>

<template>
  <header class="bar">
    <div class="job">
      <RouterLink to="/" class="home" aria-label="All jobs" title="All jobs"><PrismMark /></RouterLink>
      <input
        v-if="editing"
        v-model="name"
        class="name-field"
        aria-label="Name of the job"
        maxlength="200"
        @blur="rename"
        @keydown.enter="rename"
        @keydown.esc.stop="editing = false"
        @vue:mounted="selectAll"
      />
      <h1 v-else>
        <button class="plain" :title="`${store.job?.name}: click to rename`" @click="edit">
          {{ store.job?.name }}
        </button>
      </h1>
      <span class="quiet version" title="Version of the preparation; undo and redo move between versions"
        >v{{ store.job?.version.number }}</span
      >
    </div>
    <nav aria-label="Stations">
      <button
        v-for="entry in STATIONS"
        :key="entry.id"
        :aria-current="props.station === entry.id ? 'page' : undefined"
        :title="`${entry.lead} Key ${entry.key}`"
        @click="go(entry.id)"
      >
        <span><span class="key">{{ entry.key }}</span>{{ entry.title }}</span>
        <small :class="notes[entry.id].tone">{{ notes[entry.id].text }}</small>
      </button>
    </nav>
    <div class="tasks" role="status" aria-live="polite">
      <span v-if="store.offline || store.unsaved" class="bad"
        >Server out of reach, trying again<template v-if="store.unsaved"
          >; {{ counted(store.unsaved, 'change') }} not saved yet</template
        ></span
      >
      <template v-else-if="sending">
        <span class="what"
          >Sending {{ sending.name }} {{ Math.floor((100 * sending.sent) / (sending.total || 1)) }} %</span
        >
        <button class="plain" @click="sending.cancel()">Cancel</button>
      </template>
      <template v-else-if="task">
        <span class="what" :title="task.progress?.what">{{
          task.progress ? task.progress.what : 'Waiting for the worker'
        }}</span>
        <span v-if="task.progress" class="quiet count">{{ progressWords(task.progress, now) }}</span>
        <button class="plain" @click="store.cancel(task.id)">Cancel</button>
      </template>
      <template v-else-if="store.stalled">
        <span class="warn">{{ formatCount(store.evaluation?.missing ?? 0) }} left to compute</span>
        <button class="plain" @click="store.goOn">Continue</button>
      </template>
      <span v-else-if="store.saving" class="quiet">Saving</span>
    </div>
    <div class="ends">
      <button
        class="plain"
        :aria-label="dark ? 'Light sheet' : 'Dark sheet'"
        :title="dark ? 'Light sheet' : 'Dark sheet'"
        @click="turnSheet"
      >
        {{ dark ? '☼' : '☾' }}
      </button>
      <button class="plain" aria-label="Find an action, Ctrl K" title="Find an action (Ctrl K)" @click="emit('find')">
        <kbd>Ctrl K</kbd>
      </button>
      <button class="plain" aria-label="Keyboard shortcuts" title="Keyboard shortcuts" @click="emit('help')">
        <kbd>?</kbd>
      </button>
    </div>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  border-bottom: 1px solid var(--rule);
  height: 48px;
  min-width: 0;
}
.job {
  width: 320px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 12px;
  border-right: 1px solid var(--rule);
}
.home {
  color: var(--ink);
  display: grid;
}
.home svg {
  width: 30px;
}
h1 {
  min-width: 0;
  font-size: 16px;
}
h1 button {
  max-width: 100%;
  padding: 0;
  font: inherit;
  color: inherit;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  cursor: text;
}
.name-field {
  font: 620 16px var(--serif);
  border: 0;
  border-bottom: 1px solid var(--iris);
  background: none;
  min-width: 0;
  flex: 1;
}
.version {
  font-size: 12px;
}
nav {
  display: flex;
}
nav button {
  background: none;
  border: 0;
  border-right: 1px solid var(--rule);
  border-bottom: 2px solid transparent;
  padding: 4px 12px 2px 14px;
  min-width: 98px;
  text-align: left;
  display: grid;
  align-content: center;
  cursor: pointer;
  line-height: 1.3;
}
nav button:hover {
  background: var(--raised);
}
nav button[aria-current] {
  border-bottom-color: var(--ink);
  background: var(--raised);
  font-weight: 600;
}
nav .key {
  font: 12px var(--serif);
  color: var(--ink-2);
  display: inline-block;
  width: 14px;
}
nav small {
  font-size: 11px;
  font-weight: 400;
  padding-left: 14px;
  white-space: nowrap;
}
nav small:not(.bad, .good, .warn) {
  color: var(--ink-2);
}
.tasks {
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 8px;
  padding: 0 8px 0 14px;
  font-size: 12px;
}
.what {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink-2);
}
.count {
  white-space: nowrap;
}
.ends {
  display: flex;
  align-items: center;
  gap: 2px;
  padding-right: 8px;
}
</style>
