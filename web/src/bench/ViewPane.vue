<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { formatCount, formatLength } from '@noble-prism/core/units';
import { asPrismError } from '@noble-prism/core/errors';
import { useJob } from '../stores/job.ts';
import { LOOKS, useLooks } from '../stores/looks.ts';
import { useMeasure } from '../stores/measure.ts';
import { partsAmong, useSelection } from '../stores/selection.ts';
import type { Bands } from '../spectrum/bands.ts';
import { movedIn } from '../evaluation/client.ts';
import { dark } from '../theme/sheetMode.ts';
import { hasOptics } from '../view/optics.ts';
import { View } from '../view/view.ts';
import { unitOf } from './describe.ts';
import PlayBar from './PlayBar.vue';
import TitleBlock from './TitleBlock.vue';

const props = defineProps<{ bands: Bands; hues: string[] }>();
const emit = defineEmits<{ menu: [event: MouseEvent] }>();
const store = useJob();
const selection = useSelection();
const looks = useLooks();
const measure = useMeasure();

const canvas = ref<HTMLCanvasElement>();
const view = shallowRef<View>();
const problem = ref('');
/** Counts up when geometry arrived: readings that need it are made again. */
const arrivals = ref(0);
const economy = computed(() => view.value?.economy ?? false);
const pitch = ref(1);
/** Too many to be drawn without a graphics card. */
const edgesLeftOut = ref(false);
let press: { x: number; y: number } | undefined;

onMounted(() => {
  try {
    const made = new View(canvas.value as HTMLCanvasElement, {
      changed: () => {
        arrivals.value++;
        pitch.value = view.value?.pitch ?? 1;
        edgesLeftOut.value = view.value?.leavesOutEdges ?? false;
      },
      failed: (error) => {
        const { code, message } = asPrismError(error);
        problem.value = message;
        // Its blob is gone: the server makes it again when it evaluates.
        if (code === 'missing-blob') askAgain();
      },
    });
    view.value = made;
    made.look(looks.look, looks.edges);
    made.showOptics(looks.optics);
    if (store.job?.view) made.eye.standAt(store.job.view);
    made.setScene(store.shown);
    made.setHidden(selection.hidden);
    made.select(selection.deep);
  } catch (error) {
    problem.value = `The view cannot be drawn: this browser gives no WebGL 2 (${(error as Error).message}). Everything else works.`;
  }
});
onBeforeUnmount(() => {
  clearTimeout(resting);
  measure.stop();
  view.value?.dispose();
});

watch(
  () => store.shown,
  (scene) => view.value?.setScene(scene, movedIn(scene)),
);
/** The list of jobs shows each as it was last seen complete. Taken when all has come to rest; never while it is worked on. */
const REST = 4000;
let pictured = '';
let resting: ReturnType<typeof setTimeout> | undefined;
watch([() => store.scene, arrivals], () => {
  clearTimeout(resting);
  resting = setTimeout(() => {
    const evaluation = store.evaluation;
    if (!view.value || !evaluation || evaluation.missing > 0 || empty.value || evaluation.key === pictured) return;
    // Not worth the wait where a picture takes seconds.
    if (!view.value.isQuick) return;
    pictured = evaluation.key;
    void view.value.picture(PICTURE_WIDTH).then(store.keepPicture, () => {});
  }, REST);
});
const PICTURE_WIDTH = 480;

watch(
  () => selection.hidden,
  (ids) => view.value?.setHidden(ids),
);
watch(
  () => selection.outlined ?? selection.deep,
  (rows) => view.value?.select(rows),
);
watch(
  () => [looks.look, looks.edges] as const,
  ([look, edges]) => view.value?.look(look, edges),
);
watch(
  () => looks.optics,
  (on) => view.value?.showOptics(on),
);
watch(() => selection.frameWish, frame);
watch(
  () => measure.points,
  (points) => view.value?.showMeasure(points),
);
watch(dark, () => view.value?.setSheet(), { flush: 'post' });
// Hues of a hundred thousand parts are made for the look that shows them only.
watch([() => props.bands, () => props.hues, () => looks.look] as const, ([{ of }, hues, look]) => {
  if (look === 'density') view.value?.setHues(of, hues);
});

/** Many pieces may be missing at once: one evaluation makes them all. */
let asking = false;
function askAgain(): void {
  if (asking) return;
  asking = true;
  void store.goOn();
}
watch(
  () => store.job?.tasks.findLast(({ kind, state }) => kind === 'evaluate' && state === 'done')?.id,
  () => {
    if (!asking) return;
    asking = false;
    problem.value = '';
    view.value?.geometry.retry();
  },
);

/** The job opens with the view that is kept, or with everything in sight. */
function keepView(): void {
  if (store.job?.view) void store.keepView(null);
  else if (view.value) void store.keepView(view.value.eye.standpoint);
}

function frame(): void {
  view.value?.eye.take();
  view.value?.frame(selection.deep.size > 0 ? selection.deep : undefined);
}

function down(event: PointerEvent): void {
  press = { x: event.clientX, y: event.clientY };
  view.value?.eye.take();
}

function up(event: PointerEvent): void {
  const start = press;
  // The right button is heard once more, by what opens the menu.
  if (event.button === 2) return;
  press = undefined;
  // A drag turns the model; only a click selects.
  if (!start || event.button !== 0 || Math.hypot(event.clientX - start.x, event.clientY - start.y) > 4) return;
  const { left, top } = (canvas.value as HTMLCanvasElement).getBoundingClientRect();
  if (measure.active) {
    const point = view.value?.pointAt(event.clientX - left, event.clientY - top);
    if (point) measure.add(point);
    return;
  }
  const node = view.value?.pick(event.clientX - left, event.clientY - top);
  const more = event.ctrlKey || event.metaKey || event.shiftKey;
  if (node) selection.pick([node.key], more ? 'toggle' : 'set');
  else if (!more) selection.clear();
}

/** A right click, not a drag with that button, opens the menu of what lies under it, or of what is selected. */
function openMenu(event: MouseEvent): void {
  const start = press;
  press = undefined;
  if (start && Math.hypot(event.clientX - start.x, event.clientY - start.y) > 4) return;
  const { left, top } = (canvas.value as HTMLCanvasElement).getBoundingClientRect();
  const node = start ? view.value?.pick(event.clientX - left, event.clientY - top) : undefined;
  if (node && !selection.deep.has(node.id)) selection.pick([node.key]);
  emit('menu', event);
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

const hiddenCount = computed(() => partsAmong(store.scene, selection.hidden).size);
const withOptics = computed(() => store.scene.nodes.tables.extras.length > 1 && store.scene.nodes.some(hasOptics));
/** The only camera that is selected. */
const camera = computed(() => {
  const [only, ...others] = selection.nodes;
  return only?.camera && others.length === 0 ? only : undefined;
});
const unit = computed(() => unitOf(store.scene));
const empty = computed(() => store.scene.nodes.length === 0);
defineExpose({ frame });
</script>

<template>
  <section class="view" aria-label="View">
    <canvas
      ref="canvas"
      tabindex="0"
      role="img"
      :class="{ measuring: measure.active }"
      :aria-label="`View of ${formatCount(store.scene.nodes.length)} rows. Arrow keys turn, plus and minus zoom, F frames.`"
      @pointerdown="down"
      @pointerup="up"
      @keydown="key"
      @contextmenu.prevent="openMenu"
    />
    <div class="top">
      <div class="looks" role="toolbar" aria-label="Ways of looking">
        <button
          v-for="{ look, title, hint } in LOOKS"
          :key="look"
          :aria-pressed="looks.look === look"
          :title="hint"
          @click="looks.look = look"
        >
          {{ title }}
        </button>
        <button
          class="edges"
          :aria-pressed="looks.edges && !edgesLeftOut"
          :title="
            edgesLeftOut
              ? 'Feature edges (E): left out here, as there are too many to be drawn without a graphics card'
              : 'Feature edges as ink lines (E)'
          "
          @click="looks.edges = !looks.edges"
        >
          {{ edgesLeftOut ? 'no edges' : 'edges' }}
        </button>
        <button
          v-if="withOptics"
          :aria-pressed="looks.optics"
          title="Cameras and lights of the sources as lines"
          @click="looks.optics = !looks.optics"
        >
          cameras
        </button>
        <button :aria-pressed="measure.active" title="Distance between two points (D)" @click="measure.toggle">
          measure
        </button>
        <button v-if="camera" title="Look through the selected camera" @click="view?.lookThrough(camera)">
          look through
        </button>
        <button
          v-if="!empty"
          :aria-pressed="store.job?.view != null"
          :title="
            store.job?.view
              ? 'The job opens with the view that was kept; click to frame everything again'
              : 'The job opens with this view'
          "
          @click="keepView"
        >
          keep view
        </button>
        <output v-if="measure.active" class="measured">
          {{
            measure.distance === undefined
              ? measure.points.length === 0
                ? 'click the first point'
                : 'click the second point'
              : `${formatLength(measure.distance, unit, 5)}${unit === 'm' ? '' : ` = ${formatLength(measure.distance, 'm', 5)}`}`
          }}
        </output>
        <span class="gap" />
        <span
          v-if="!empty && !hiddenCount && !camera"
          class="scale"
          :title="economy ? 'No graphics card was found: the view is drawn in an economy way' : undefined"
        >
          {{ formatLength(pitch, pitch >= 1 ? 'm' : 'mm') }} lines
        </span>
        <button v-if="hiddenCount" class="shown" title="Show all (A)" @click="selection.showAll">
          show {{ formatCount(hiddenCount) }} hidden
        </button>
      </div>
      <PlayBar @pose="view?.pose($event)" />
    </div>
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
.looks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 3px;
}
.looks button {
  background: none;
  border: 0;
  padding: 2px 4px;
  color: var(--ink-2);
  cursor: pointer;
  font-size: 12px;
  white-space: nowrap;
}
.looks button:hover {
  color: var(--ink);
}
.looks button[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -1.5px var(--ink);
}
.looks .edges {
  margin-left: 10px;
}
.gap {
  flex: 1;
}
.looks .shown {
  white-space: nowrap;
  color: var(--iris);
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
.measured {
  align-self: center;
  font-size: 12px;
  color: var(--iris);
}
.scale {
  font-size: 11px;
  white-space: nowrap;
  color: var(--ink-2);
  align-self: center;
}
</style>
