<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { useToast } from 'primevue/usetoast';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import type { Component } from 'vue';
import { useRouter } from 'vue-router';
import LedgerPane from '../bench/LedgerPane.vue';
import SameNameDialog from '../bench/SameNameDialog.vue';
import ShortcutSheet from '../bench/ShortcutSheet.vue';
import SpectrumBand from '../bench/SpectrumBand.vue';
import StepsBar from '../bench/StepsBar.vue';
import TopBar from '../bench/TopBar.vue';
import ViewPane from '../bench/ViewPane.vue';
import ArrangeStation from '../bench/stations/ArrangeStation.vue';
import FinishesStation from '../bench/stations/FinishesStation.vue';
import LightenStation from '../bench/stations/LightenStation.vue';
import ReceiveStation from '../bench/stations/ReceiveStation.vue';
import TransmitStation from '../bench/stations/TransmitStation.vue';
import { STATIONS } from '../bench/stations.ts';
import { shortcutOf } from '../bench/shortcuts.ts';
import { openStep } from '../bench/stepEdits.ts';
import { errorToasts } from '../bench/errorToasts.ts';
import { droppedFiles } from '../api/bundle.ts';
import { useJob } from '../stores/job.ts';
import { NO_BANDS } from '../spectrum/bands.ts';
import { huesOf } from '../spectrum/hues.ts';
import { LOOKS, useLooks } from '../stores/looks.ts';
import { useMeasure } from '../stores/measure.ts';
import { useSelection } from '../stores/selection.ts';
import { dark } from '../theme/sheetMode.ts';

const props = defineProps<{ job: string; station?: string }>();
const store = useJob();
const selection = useSelection();
const looks = useLooks();
const measure = useMeasure();
const router = useRouter();
const showError = errorToasts(useToast());
const help = ref(false);
const dropping = ref(0);
const ledger = ref<InstanceType<typeof LedgerPane>>();

const PANELS: Record<string, Component> = {
  receive: ReceiveStation,
  arrange: ArrangeStation,
  finishes: FinishesStation,
  lighten: LightenStation,
  transmit: TransmitStation,
};
const station = computed(() => STATIONS.find(({ id }) => id === props.station) ?? STATIONS[0]);
const bands = computed(() => store.evaluation?.bands ?? NO_BANDS);
const hues = computed(() => huesOf(bands.value, dark.value));

watch(
  () => props.job,
  (id) => {
    selection.clear();
    selection.showAll();
    openStep.value = undefined;
    void store.open(id);
  },
  { immediate: true },
);
watch(
  () => store.job?.name,
  (name) => (document.title = name ? `${name} · Noble Prism` : 'Noble Prism'),
);
watch(
  () => store.error,
  (error) => {
    if (error && store.job) showError({ summary: error.file ?? 'Not done', detail: error.message });
  },
);
// A tessellation or reading that failed as a whole says so once.
watch(
  () => store.job?.tasks.findLast((task) => task.state === 'failed')?.id,
  (id, before) => {
    const task = store.job?.tasks.find((candidate) => candidate.id === id);
    if (id && before !== id && task?.error)
      showError({ summary: task.error.file ?? 'Not done', detail: task.error.message });
  },
);

// What is selected before it has triangles is what somebody waits for.
watch(
  () => selection.deep,
  (rows) => store.want(rows),
);

function go(id: string): void {
  void router.replace({ name: 'bench', params: { job: props.job, station: id } });
}

function key(event: KeyboardEvent): void {
  const shortcut = shortcutOf(event);
  if (!shortcut) return;
  const action = typeof shortcut === 'string' ? () => void store.move(shortcut) : actionOf(shortcut.key);
  if (!action) return;
  // Heard before the control in focus: a list of choices would open at a letter.
  event.preventDefault();
  event.stopPropagation();
  action();
}

function actionOf(name: string): (() => void) | undefined {
  const found = STATIONS.find((entry) => entry.key === name);
  if (found) return () => go(found.id);
  const actions: Record<string, () => void> = {
    f: selection.frame,
    i: selection.isolate,
    h: selection.hide,
    a: selection.showAll,
    e: () => (looks.edges = !looks.edges),
    d: measure.toggle,
    l: () => (looks.look = LOOKS[(LOOKS.findIndex(({ look }) => look === looks.look) + 1) % LOOKS.length].look),
    escape: () => (measure.active ? measure.stop() : selection.clear()),
    '/': () => ledger.value?.focusSearch(),
    '?': () => (help.value = true),
  };
  return actions[name];
}

const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
function drop(event: DragEvent): void {
  dropping.value = 0;
  if (!hasFiles(event)) return;
  event.preventDefault();
  go('receive');
  if (event.dataTransfer) void store.receive(droppedFiles(event.dataTransfer));
}

onMounted(() => window.addEventListener('keydown', key, true));
onBeforeUnmount(() => {
  window.removeEventListener('keydown', key, true);
  store.leave();
});
</script>

<template>
  <div
    v-if="store.job"
    class="bench"
    @dragenter="hasFiles($event) && dropping++"
    @dragleave="hasFiles($event) && dropping--"
    @dragover="hasFiles($event) && $event.preventDefault()"
    @drop="drop"
  >
    <TopBar :station="station.id" @help="help = true" />
    <LedgerPane ref="ledger" :station="station.id" :bands="bands" :hues="hues" />
    <div class="middle">
      <ViewPane :bands="bands" :hues="hues" />
      <SpectrumBand :bands="bands" :hues="hues" />
    </div>
    <!-- Made anew with each station, so that none begins where another was scrolled to. -->
    <aside :key="station.id" :aria-label="station.title">
      <h2>{{ station.title }}</h2>
      <p class="quiet lead">{{ station.lead }}</p>
      <component :is="PANELS[station.id]" />
    </aside>
    <StepsBar />
    <div v-if="dropping > 0" class="drop" aria-hidden="true"><p>Drop to receive</p></div>
  </div>
  <main v-else class="wait">
    <template v-if="store.error">
      <h1>This job cannot be opened</h1>
      <p class="bad" role="alert">{{ store.error.message }}</p>
      <RouterLink to="/">All jobs</RouterLink>
    </template>
    <p v-else class="quiet">Opening the job …</p>
  </main>
  <ShortcutSheet v-model:visible="help" />
  <SameNameDialog />
  <Dialog
    :visible="store.conflict !== undefined"
    modal
    :closable="false"
    header="Saved by somebody else"
    :style="{ width: '440px' }"
  >
    <p>
      Version {{ store.conflict?.current }} was saved while you worked. Your change “{{ store.conflict?.note }}” was not
      saved, and nothing was overwritten. It can be made again on top of theirs.
    </p>
    <template #footer>
      <button class="act" @click="store.conflict = undefined">Keep theirs only</button>
      <button class="act first" @click="store.mergeConflict">Make mine again on top</button>
    </template>
  </Dialog>
</template>

<style scoped>
.bench {
  display: grid;
  height: 100%;
  grid-template-columns: minmax(260px, 30vw) minmax(0, 1fr) minmax(270px, 308px);
  grid-template-rows: 48px minmax(0, 1fr) 46px;
  position: relative;
  /* Not even a script may scroll it: its panes scroll. */
  overflow: clip;
}
@media (min-width: 1400px) {
  .bench {
    grid-template-columns: 420px minmax(0, 1fr) 340px;
  }
}
.bench > :first-child,
.bench > :deep(.steps) {
  grid-column: 1 / -1;
}
.middle {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
}
aside {
  border-left: 1px solid var(--rule);
  background: var(--raised);
  padding: 12px 14px;
  overflow-y: auto;
  min-height: 0;
  scrollbar-width: thin;
}
h2 {
  font-size: 18px;
  line-height: 1.25;
}
.lead {
  margin-bottom: 12px;
}
.wait {
  height: 100%;
  display: grid;
  place-content: center;
  gap: 10px;
  text-align: center;
}
.drop {
  position: absolute;
  inset: 0;
  display: grid;
  place-content: center;
  pointer-events: none;
  background: color-mix(in srgb, var(--paper) 75%, transparent);
  outline: 2px dashed var(--iris);
  outline-offset: -10px;
  font: 500 24px var(--serif);
  z-index: 5;
}
</style>
