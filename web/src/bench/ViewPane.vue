<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useRoute } from 'vue-router';
import { snapWords } from '@noble-prism/core/measure/snap';
import type { Snap } from '@noble-prism/core/measure/snap';
import { formatCount } from '@noble-prism/core/units';
import { asPrismError } from '@noble-prism/core/errors';
import { useExact } from '../stores/exact.ts';
import { useFaces } from '../stores/faces.ts';
import { useJob } from '../stores/job.ts';
import { useLooks } from '../stores/looks.ts';
import { useMeasure } from '../stores/measure.ts';
import { usePointing } from '../stores/pointing.ts';
import { usePosing } from '../stores/posing.ts';
import { useSection } from '../stores/section.ts';
import { useSelection } from '../stores/selection.ts';
import type { Bands } from '../spectrum/bands.ts';
import { finishesStep } from '@noble-prism/core/steps/finishes';
import { movedIn } from '../evaluation/client.ts';
import { dark } from '../theme/sheetMode.ts';
import { View } from '../view/view.ts';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { calloutsOf, linkCallouts } from './calloutsOf.ts';
import { openActionOf } from './openAction.ts';
import CheckerLegend from './CheckerLegend.vue';
import LooksBar from './LooksBar.vue';
import WipeLine from './WipeLine.vue';
import { openStep } from './stepEdits.ts';
import { useAim } from './aim.ts';
import { useClicksInView } from './clicksInView.ts';
import { useJobPicture } from './jobPicture.ts';
import { useMissingBlobs } from './missingBlobs.ts';
import { useDragRows } from './dragRows.ts';
import { useRectangle } from './drawRectangle.ts';
import { useSectionInView } from './sectionInView.ts';
import MeasureBar from './MeasureBar.vue';
import PlayBar from './PlayBar.vue';
import SectionBar from './SectionBar.vue';
import TitleBlock from './TitleBlock.vue';

const props = defineProps<{ bands: Bands; hues: string[] }>();
const emit = defineEmits<{ menu: [event: MouseEvent] }>();
const store = useJob();
const route = useRoute();
const selection = useSelection();
const looks = useLooks();
const measure = useMeasure();
const section = useSection();
const faces = useFaces();
const exact = useExact();
const pointing = usePointing();
const posing = usePosing();

const canvas = ref<HTMLCanvasElement>();
const view = shallowRef<View>();
const problem = ref('');
/** Counts up when geometry arrived: readings that need it are made again. */
const arrivals = ref(0);
const pitch = ref(1);
/** Too many to be drawn without a graphics card. */
const edgesLeftOut = ref(false);
/** Parts in front of what was framed. */
const faded = ref(0);
useJobPicture(view, arrivals);
const askAgain = useMissingBlobs(view, problem);
const clicks = useClicksInView(view);
const drawing = useRectangle(view);
const { rectangle } = drawing;
const rowDrag = useDragRows(view);
const { dragged } = rowDrag;
const inSection = useSectionInView(view);
const aim = useAim(view);
const { aimed } = aim;
/** Where the view without a step ends and the view with it begins, as a share of the width. */
const wiped = ref(0.5);
watch(
  () => [store.without, wiped.value] as const,
  ([scene, share]) => view.value?.wipe(scene, share),
);
watch(
  () => openStep.value,
  () => {
    if (store.comparing !== undefined) store.compare();
  },
);
const nameOf = ({ row }: Snap): string => store.scene.nodes.text('name', row);

onMounted(() => {
  try {
    const made = new View(canvas.value as HTMLCanvasElement, {
      changed: () => {
        arrivals.value++;
        pitch.value = view.value?.pitch ?? 1;
        faded.value = view.value?.faded ?? 0;
        edgesLeftOut.value = view.value?.leavesOutEdges ?? false;
      },
      exactOf: exact.shapeOf,
      failed: (error) => {
        const { code, message } = asPrismError(error);
        problem.value = message;
        // Its blob is gone: the server makes it again when it evaluates.
        if (code === 'missing-blob') askAgain();
      },
    });
    view.value = made;
    made.look(looks.look, looks.edges, looks.set);
    made.showOptics(looks.optics);
    if (store.job?.view) made.eye.standAt(store.job.view);
    made.setScene(store.shown);
    made.setHidden(selection.hidden);
    made.select(selection.deep);
    made.markPivots(new Set(selection.ids));
    made.showCallouts(callouts.value);
  } catch (error) {
    problem.value = `The view cannot be drawn: this browser gives no WebGL 2 (${(error as Error).message}). Everything else works.`;
  }
});
onBeforeUnmount(() => {
  section.box = undefined;
  if (store.comparing !== undefined) store.compare();
  measure.stop();
  faces.stop();
  pointing.want();
  view.value?.dispose();
});

watch(
  () => store.shown,
  (scene) => view.value?.setScene(scene, movedIn(scene)),
);
watch(
  () => selection.hidden,
  (ids) => view.value?.setHidden(ids),
);
watch(
  () => selection.outlined ?? selection.deep,
  (rows) => view.value?.select(rows),
);
// A finish that is tried is judged by its colour.
watch(
  () => store.trial?.title === finishesStep.title || looks.look === 'checker',
  (only) => view.value?.markByOutline(only),
);
watch(
  () => faces.tried,
  (colour) => view.value?.tryOnFaces(colour),
);
watch(
  () => [looks.look, looks.edges, looks.set] as const,
  ([look, edges, set]) => view.value?.look(look, edges, set),
);
watch(
  () => selection.ids,
  (ids) => view.value?.markPivots(new Set(ids)),
);
watch(
  () => looks.optics,
  (on) => view.value?.showOptics(on),
);
watch(() => selection.frameWish, frame);
/** Not with each picture of a movement: only when one begins and ends. */
const isPosed = computed(() => posing.places !== undefined);
/** Names and measures are shown where they are made: elsewhere they would only cover what is looked at. */
const callouts = computed(() => {
  if (route.params.station !== 'arrange') return [];
  // Axes are those of what stands where it stands.
  const isMotion = MOTION.includes(openActionOf('arrange', undefined) ?? '') && !isPosed.value;
  return [...calloutsOf(store.shown, store.evaluation?.reports ?? []), ...(isMotion ? linkCallouts(store.shown) : [])];
});
const MOTION = ['link', 'drive', 'run'];
watch(callouts, (list) => view.value?.showCallouts(list));
watch(
  () => posing.places,
  (places) => view.value?.pose(places),
);
watch(
  () => measure.points,
  (points) => view.value?.showMeasure(points),
);
watch(dark, () => view.value?.setSheet(), { flush: 'post' });
// Hues of a hundred thousand parts are made for the look that shows them only.
watch([() => props.bands, () => props.hues, () => looks.look] as const, ([{ of }, hues, look]) => {
  if (look === 'density') view.value?.setHues(of, hues);
});

function frame(): void {
  view.value?.eye.take();
  view.value?.frame(selection.deep.size > 0 ? selection.deep : undefined);
}

function down(event: PointerEvent): void {
  clicks.begin(event);
  view.value?.eye.take();
  if (event.button !== 0) return;
  const { shiftKey } = event;
  if (drawing.isNext.value) drawing.begin(event, clicks.forget);
  // What is to be dragged is dragged with Shift too, which then means round steps.
  else if ((!shiftKey && inSection.take(event)) || rowDrag.take(event)) clicks.forget();
  else if (shiftKey) drawing.begin(event, clicks.forget);
}

/** A right click, not a drag with that button, opens the menu of what lies under it, or of what is selected. */
function openMenu(event: MouseEvent): void {
  if (clicks.aimMenu(event)) emit('menu', event);
}

function key(event: KeyboardEvent): void {
  const step = Math.PI / 24;
  if (event.key === 'ArrowLeft') view.value?.eye.orbit(-step, 0);
  else if (event.key === 'ArrowRight') view.value?.eye.orbit(step, 0);
  else if (event.key === 'ArrowUp') view.value?.eye.orbit(0, -step);
  else if (event.key === 'ArrowDown') view.value?.eye.orbit(0, step);
  else if (event.key === '+' || event.key === '=') view.value?.eye.zoom(0.8);
  else if (event.key === '-') view.value?.eye.zoom(1.25);
  else return;
  view.value?.eye.take();
  event.preventDefault();
}

const unit = computed(() => unitOf(store.scene));
const empty = computed(() => store.scene.nodes.length === 0);
defineExpose({ frame, toggleSection: inSection.toggle, drawRectangle: () => (drawing.isNext.value = true) });
</script>

<template>
  <section class="view" aria-label="View">
    <canvas
      ref="canvas"
      tabindex="0"
      role="img"
      :class="{
        measuring: selection.wanted || pointing.wanted || measure.active || faces.active || drawing.isNext.value,
      }"
      :aria-label="`View of ${formatCount(store.scene.nodes.length)} rows. Arrow keys turn, plus and minus zoom, F frames.`"
      @pointerdown="down"
      @pointerup="clicks.end"
      @pointermove="aim.move"
      @pointerleave="aim.end"
      @keydown="key"
      @contextmenu.prevent="openMenu"
    />
    <div class="top">
      <LooksBar :view="view" :edges-left-out="edgesLeftOut" :pitch="pitch" :faded="faded" @section="inSection.toggle" />
      <SectionBar
        v-if="section.box"
        :box="section.box"
        :box-of-all="view?.boxOfAll"
        :positions-of="view?.geometry.positionsOf"
      />
      <CheckerLegend v-if="looks.look === 'checker'" />
      <MeasureBar v-if="measure.active" />
      <PlayBar />
      <p v-if="pointing.wanted" class="trial" role="status">
        {{ pointing.wanted.words }}
        <button class="plain" title="Picks nothing (Esc)" @click="pointing.want()">Cancel</button>
      </p>
      <p v-if="selection.wanted" class="trial" role="status">
        {{ selection.wanted.words }}
        <button class="plain" title="Chooses nothing (Esc)" @click="selection.want()">Cancel</button>
      </p>
      <p v-if="store.trial" class="trial" role="status">
        Preview of {{ store.trial.title }}, not applied yet
        <button class="plain" title="Shows the job as it is (Esc)" @click="store.tryOut()">Discard</button>
      </p>
    </div>
    <div
      v-if="rectangle"
      class="rectangle"
      :class="rectangle.how"
      :style="{
        left: `${rectangle.left}px`,
        top: `${rectangle.top}px`,
        width: `${rectangle.right - rectangle.left}px`,
        height: `${rectangle.bottom - rectangle.top}px`,
      }"
    >
      <span>{{ rectangle.how === 'inside' ? 'wholly inside' : 'inside or touched' }}</span>
    </div>
    <p
      v-if="aimed"
      class="aimed"
      :class="{ left: aimed.x > 380 }"
      :style="{ '--x': `${aimed.x}px`, '--y': `${aimed.y}px` }"
    >
      {{ snapWords(aimed.snap, unit) }}<br /><span class="quiet">{{ nameOf(aimed.snap) }}</span>
    </p>
    <p
      v-if="dragged"
      class="aimed lines"
      :class="{ left: dragged.x > 380 }"
      :style="{ '--x': `${dragged.x}px`, '--y': `${dragged.y}px` }"
      role="status"
    >
      {{ dragged.words }}
    </p>
    <WipeLine v-if="store.comparing !== undefined" v-model="wiped" />
    <p v-if="problem" class="problem bad" role="alert">{{ problem }}</p>
    <div v-else-if="empty" class="empty">
      <p>{{ store.sources.length ? 'Reading the source …' : 'Drop models here.' }}</p>
      <p v-if="!store.sources.length" class="quiet">
        STEP, IFC, glTF, OBJ with its pictures, 3MF, COLLADA, USD, X3D, PLY, STL, IGES or BREP; one file, many, a folder
        or a zip.
      </p>
    </div>
    <TitleBlock
      v-if="!empty"
      :arrivals="arrivals"
      :positions-of="view?.geometry.positionsOf"
      :box-of-all="view?.knownBox"
    />
  </section>
</template>

<style scoped>
.view {
  position: relative;
  min-height: 0;
  min-width: 0;
  background: linear-gradient(var(--view-top), var(--view-low));
  overflow: hidden;
}
canvas {
  display: block;
  width: 100%;
  height: 100%;
  touch-action: none;
}
canvas.measuring {
  cursor: crosshair;
}
canvas:focus-visible {
  outline-offset: -2px;
}
.top {
  position: absolute;
  inset: 0 0 auto;
  padding: 6px 12px 4px;
  background: color-mix(in srgb, var(--view-top) 82%, transparent);
}
.trial {
  display: flex;
  gap: 10px;
  margin: 2px 0 0 3px;
  font-size: 12px;
  font-weight: 600;
}
.trial button {
  color: var(--iris);
  font-size: 12px;
}
.empty {
  position: absolute;
  inset: 0;
  display: grid;
  place-content: center;
  text-align: center;
  gap: 6px;
  pointer-events: none;
}
.empty p:first-child {
  font: 500 20px var(--serif);
}
.empty .quiet {
  max-width: 340px;
}
.problem {
  position: absolute;
  inset: 40px 16px auto;
}
.rectangle {
  position: absolute;
  border: 1px solid var(--iris);
  background: color-mix(in srgb, var(--iris) 8%, transparent);
  pointer-events: none;
}
.rectangle.touched {
  border-style: dashed;
}
.rectangle span {
  position: absolute;
  bottom: 100%;
  left: -1px;
  padding: 0 4px;
  font-size: 12px;
  white-space: nowrap;
  background: var(--raised);
  color: var(--iris);
}
.aimed {
  position: absolute;
  left: calc(var(--x) + 14px);
  top: calc(var(--y) + 12px);
  padding: 1px 6px;
  font-size: 12px;
  line-height: 1.35;
  white-space: nowrap;
  background: var(--raised);
  border-left: 2px solid var(--iris);
  pointer-events: none;
}
.aimed.lines {
  white-space: pre-line;
}
.aimed.left {
  left: auto;
  right: calc(100% - var(--x) + 14px);
}
</style>
