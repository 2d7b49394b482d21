<script setup lang="ts">
/** Over the view: ways of looking, what is drawn besides, measuring, the section box, and what is hidden. */
import { computed } from 'vue';
import { faceWords } from '@noble-prism/core/measure/face';
import { formatArea, formatCount, formatLength } from '@noble-prism/core/units';
import { useFaces } from '../stores/faces.ts';
import { useJob } from '../stores/job.ts';
import { LOOKS, useLooks } from '../stores/looks.ts';
import { useMeasure } from '../stores/measure.ts';
import { useSection } from '../stores/section.ts';
import { partsAmong, useSelection } from '../stores/selection.ts';
import { hasOptics } from '../view/optics.ts';
import type { View } from '../view/view.ts';
import QuantityField from '../parts/QuantityField.vue';
import { unitOf } from '@noble-prism/core/scene/unitOf';

const props = defineProps<{
  view: View | undefined;
  /** Too many to be drawn without a graphics card. */
  edgesLeftOut: boolean;
  /** Distance of the ruled lines of the ground, metres. */
  pitch: number;
  /** Parts that are faded because they stand in front of what was framed. */
  faded: number;
}>();
const emit = defineEmits<{ section: [] }>();
const store = useJob();
const selection = useSelection();
const looks = useLooks();
const measure = useMeasure();
const section = useSection();
const faces = useFaces();

const unit = computed(() => unitOf(store.scene));
const empty = computed(() => store.scene.nodes.length === 0);
const hiddenCount = computed(() => partsAmong(store.scene, selection.hidden).size);
const withOptics = computed(() => store.scene.nodes.tables.extras.length > 1 && store.scene.nodes.some(hasOptics));
/** The only camera that is selected. */
const camera = computed(() => {
  const [only, ...others] = selection.nodes;
  return only?.camera && others.length === 0 ? only : undefined;
});
const facesSaid = computed(() => {
  const [only, ...others] = faces.picked;
  if (!only) return 'click a face';
  if (others.length > 0) return `${formatCount(faces.picked.length)} faces, ${formatArea(faces.area, unit.value)}`;
  return `${store.scene.nodes.text('name', only.row)}: ${faceWords(only, unit.value)}`;
});
/** Told by how much the triangles turn. */
const isOfMesh = computed(() => faces.picked.some(({ face }) => !face));
/** A click means one thing at a time. */
function toggleMeasure(): void {
  faces.stop();
  measure.toggle();
}
function toggleFaces(): void {
  measure.stop();
  faces.toggle();
}
/** The job opens with the view that is kept, or with everything in sight. */
function keepView(): void {
  if (store.job?.view) void store.keepView(null);
  else if (props.view) void store.keepView(props.view.eye.standpoint);
}
</script>

<template>
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
    <button
      :aria-pressed="measure.active"
      title="Distances, angles and radii, between points of the parts (D)"
      @click="toggleMeasure"
    >
      measure
    </button>
    <button
      :aria-pressed="faces.active"
      title="Clicks take faces; more of them with Ctrl. Their area and their axis are said here (G)"
      @click="toggleFaces"
    >
      faces
    </button>
    <button
      :aria-pressed="section.box !== undefined"
      title="Draws only what is inside a box, laid around the selection or everything (X)"
      @click="emit('section')"
    >
      section
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
    <span v-if="faces.active" class="faces">
      <output class="measured">{{ facesSaid }}</output>
      <label v-if="isOfMesh" class="quiet" for="faces-angle">turning up to</label>
      <QuantityField
        v-if="isOfMesh"
        id="faces-angle"
        class="angle"
        of="angle"
        unit="°"
        label="Neighbours of one face turn by up to"
        :model-value="faces.angle"
        :min="0.001"
        :max="3.14"
        @update:model-value="$event !== undefined && (faces.angle = $event)"
      />
    </span>
    <span class="gap" />
    <span
      v-if="!empty && !hiddenCount && !camera && !faded && !section.box"
      class="scale"
      :title="view?.economy ? 'No graphics card was found: the view is drawn in an economy way' : undefined"
    >
      {{ formatLength(pitch, pitch >= 1 ? 'm' : 'mm') }} lines
    </span>
    <button
      v-if="faded"
      class="shown"
      title="They stand in front of what was framed; a click draws them again"
      @click="view?.unfade()"
    >
      {{ formatCount(faded) }} faded
    </button>
    <button v-if="hiddenCount" class="shown" title="Show all (A)" @click="selection.showAll">
      show {{ formatCount(hiddenCount) }} hidden
    </button>
  </div>
</template>

<style scoped>
.looks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 1px;
}
.looks button {
  background: none;
  border: 0;
  padding: 2px;
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
  margin-left: 5px;
}
.gap {
  flex: 1;
}
.looks .shown {
  white-space: nowrap;
  color: var(--iris);
}
.measured {
  align-self: center;
  font-size: 12px;
  color: var(--iris);
}
.faces {
  display: inline-flex;
  align-items: baseline;
  gap: 6px;
  font-size: 12px;
}
.angle {
  width: 56px;
}
.scale {
  /* Under the bar: in it, it would stand alone in a second line. */
  position: absolute;
  top: 100%;
  right: 12px;
  font-size: 11px;
  white-space: nowrap;
  color: var(--ink-2);
}
</style>
