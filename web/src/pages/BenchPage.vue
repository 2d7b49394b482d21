<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import type { Component } from 'vue';
import { useRouter } from 'vue-router';
import ActionFinder from '../bench/ActionFinder.vue';
import LedgerPane from '../bench/LedgerPane.vue';
import NoticeBar from '../bench/NoticeBar.vue';
import SameNameDialog from '../bench/SameNameDialog.vue';
import SelectionMenu from '../bench/SelectionMenu.vue';
import ShortcutSheet from '../bench/ShortcutSheet.vue';
import SpectrumBand from '../bench/SpectrumBand.vue';
import StationActions from '../bench/StationActions.vue';
import StepsBar from '../bench/StepsBar.vue';
import StepsSheet from '../bench/StepsSheet.vue';
import TemplatesSheet from '../bench/TemplatesSheet.vue';
import TopBar from '../bench/TopBar.vue';
import ViewPane from '../bench/ViewPane.vue';
import FinishesStation from '../bench/stations/FinishesStation.vue';
import LightenStation from '../bench/stations/LightenStation.vue';
import ReceiveStation from '../bench/stations/ReceiveStation.vue';
import TransmitStation from '../bench/stations/TransmitStation.vue';
import { wideSchedule } from '../bench/finishes/wide.ts';
import { STATIONS } from '../bench/stations.ts';
import { shortcutOf } from '../bench/shortcuts.ts';
import { openStep } from '../bench/stepEdits.ts';
import { provideActions } from '../bench/actions.ts';
import { followOpenStep, openAction } from '../bench/openAction.ts';
import { useNotices } from '../stores/notices.ts';
import { ERROR_TITLES } from '@noble-prism/core/errors';
import { isPicture } from '@noble-prism/core/read/pictureKinds';
import { droppedFiles } from '../api/bundle.ts';
import { useJob } from '../stores/job.ts';
import { NO_BANDS } from '../spectrum/bands.ts';
import { huesOf } from '../spectrum/hues.ts';
import { useSelection } from '../stores/selection.ts';
import { dark } from '../theme/sheetMode.ts';

const props = defineProps<{ job: string; station?: string }>();
const store = useJob();
const selection = useSelection();
const router = useRouter();
const notices = useNotices();
/** What is open over the bench. */
const over = ref<'keys' | 'finder' | 'sheet' | 'templates'>();
const isOver = (what: NonNullable<typeof over.value>) => ({
  visible: over.value === what,
  'onUpdate:visible': (visible: boolean) => (over.value = visible ? what : undefined),
});
const menu = ref<InstanceType<typeof SelectionMenu>>();
const dropping = ref(0);
const ledger = ref<InstanceType<typeof LedgerPane>>();
const view = ref<InstanceType<typeof ViewPane>>();

/** Stations that are more than what can be done at them. */
const PANELS: Record<string, Component> = {
  receive: ReceiveStation,
  finishes: FinishesStation,
  lighten: LightenStation,
  transmit: TransmitStation,
};
/** The panel of the station stands across the width, under the view. */
const across = computed(() => station.value.id === 'finishes' && wideSchedule.value);
const station = computed(() => STATIONS.find(({ id }) => id === props.station) ?? STATIONS[0]);
const bands = computed(() => store.evaluation?.bands ?? NO_BANDS);
const hues = computed(() => huesOf(bands.value, dark.value));

watch(
  () => props.job,
  (id) => {
    selection.clear();
    selection.showAll();
    notices.clear();
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
    if (error && store.job) notices.say({ summary: error.file ?? ERROR_TITLES[error.code], detail: error.message });
  },
);
// A tessellation or reading that failed as a whole says so once.
watch(
  () => store.job?.tasks.findLast((task) => task.state === 'failed')?.id,
  (id, before) => {
    const task = store.job?.tasks.find((candidate) => candidate.id === id);
    if (id && before !== id && task?.error)
      notices.say({ summary: task.error.file ?? ERROR_TITLES[task.error.code], detail: task.error.message });
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
  const action = actions().find(({ id, press }) =>
    typeof shortcut === 'string' ? id === shortcut : press === shortcut.key,
  );
  if (!action || (action.enabled === false && typeof shortcut !== 'string')) return;
  // Heard before the control in focus: a list of choices would open at a letter.
  event.preventDefault();
  event.stopPropagation();
  action.run();
}

const actions = provideActions({
  go,
  open: (what) => (over.value = what),
  ledger: () => ledger.value,
  view: () => view.value,
});
followOpenStep(go);

const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
async function drop(event: DragEvent): Promise<void> {
  dropping.value = 0;
  if (!hasFiles(event) || !event.dataTransfer) return;
  event.preventDefault();
  const files = await droppedFiles(event.dataTransfer);
  // Where what was dropped is worked on: pictures by themselves are sets of textures.
  const isSet = files.length > 0 && files.every(({ path }) => isPicture(path));
  if (isSet) openAction('finishes', 'textures');
  go(isSet ? 'finishes' : 'receive');
  void store.receive(files);
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
    :class="{ across }"
    @dragenter="hasFiles($event) && dropping++"
    @dragleave="hasFiles($event) && dropping--"
    @dragover="hasFiles($event) && $event.preventDefault()"
    @drop="drop"
  >
    <TopBar :station="station.id" @help="over = 'keys'" @find="over = 'finder'" />
    <NoticeBar />
    <LedgerPane ref="ledger" :station="station.id" :bands="bands" :hues="hues" @menu="menu?.show($event)" />
    <main class="middle">
      <ViewPane ref="view" :bands="bands" :hues="hues" @menu="menu?.show($event)" />
      <SpectrumBand :bands="bands" :hues="hues" />
    </main>
    <!-- Made anew with each station, so that none begins where another was scrolled to. -->
    <aside :key="station.id" :aria-label="station.title">
      <h2>{{ station.title }}</h2>
      <p class="quiet lead">{{ station.lead }}</p>
      <component :is="PANELS[station.id]" v-if="PANELS[station.id]" />
      <StationActions v-else :station="station.id" :station-title="station.title" />
    </aside>
    <StepsBar :station="station.id" />
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
  <ShortcutSheet v-bind="isOver('keys')" />
  <ActionFinder v-bind="isOver('finder')" />
  <StepsSheet v-bind="isOver('sheet')" />
  <TemplatesSheet v-bind="isOver('templates')" @given="over = 'sheet'" />
  <SelectionMenu ref="menu" />
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
  grid-template-rows: 48px auto minmax(0, 1fr) 46px;
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
.bench > :deep(.notices),
.bench > :deep(.steps) {
  grid-column: 1 / -1;
}
/* All keep their rows, whether there is a notice or none. */
.bench > :deep(.steps) {
  grid-row: 4;
}
.bench > :deep(.ledger),
.bench > .middle,
.bench > aside {
  grid-row: 3;
}
.across {
  grid-template-columns: minmax(260px, 30vw) minmax(0, 1fr);
  grid-template-rows: 48px auto minmax(0, 1fr) minmax(220px, 46%) 46px;
}
.across > :deep(.steps) {
  grid-row: 5;
}
.across > aside {
  grid-row: 4;
  grid-column: 1 / -1;
  border-left: 0;
  border-top: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  overflow: hidden;
  padding-bottom: 0;
}
.across > aside .lead,
.across > aside h2 {
  display: none;
}
.across > aside > :deep(.schedule) {
  flex: 1;
  min-height: 0;
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
