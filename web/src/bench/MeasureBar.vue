<script setup lang="ts">
/** What is being measured: by which points, what they come to, and under which name it is kept. */
import { computed, ref, watch } from 'vue';
import { measuredWords } from '@noble-prism/core/measure/kept';
import { snapWords } from '@noble-prism/core/measure/snap';
import { spotOn } from '@noble-prism/core/scene/spot';
import type { Spot } from '@noble-prism/core/scene/spot';
import { asReceived, onMap } from '@noble-prism/core/scene/origin';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { formatLength, formatNumber, metresPer } from '@noble-prism/core/units';
import { useJob } from '../stores/job.ts';
import { BY_POINTS, useMeasure } from '../stores/measure.ts';
import type { ByPoints } from '../stores/measure.ts';
import { changeSteps } from './stepEdits.ts';

const store = useJob();
const measure = useMeasure();
const name = ref('');
const KINDS = Object.keys(BY_POINTS) as ByPoints[];
const ORDER = ['first', 'second', 'third'];

const unit = computed(() => unitOf(store.scene));
const said = computed(() => {
  const { measured, taken, isWhole, of } = measure;
  if (measured) {
    const metres = of === 'angle' || unit.value === 'm' ? '' : ` = ${formatLength(measured.value, 'm', 5)}`;
    return `${measuredWords(measured, unit.value)}${metres}`;
  }
  if (isWhole) return of === 'angle' ? 'two of the points are one: no angle' : 'the points lie on one line: no circle';
  if (taken.length === 0)
    return of === 'radius' ? 'click a circle, or the first of three points' : 'click the first point';
  const last = snapWords(taken[taken.length - 1], unit.value);
  return `${ORDER[taken.length - 1]}: ${last}; click the ${ORDER[taken.length]} point`;
});
/** Where the last point lies: in the job, as received, on the map, where these are others. */
const lies = computed(() => {
  const point = measure.points.at(-1);
  if (!point) return '';
  const { offset, map } = store.scene.origin ?? {};
  const factor = metresPer(unit.value) ?? 1;
  const own = point.map((value) => formatNumber(value / factor + 0, 7)).join(', ');
  const far = asReceived(store.scene, point).map((value) => formatNumber(value, 11));
  const [east, north, height] = map ? onMap(map, point).map((value) => formatNumber(value, 11)) : [];
  return [
    `at x, y, z ${own} ${unit.value}`,
    ...(offset ? [`received at ${far.join(', ')} m`] : []),
    ...(map ? [`E ${east}, N ${north}, height ${height} m`] : []),
  ].join(' · ');
});

/** A name that no kept measure has yet. */
function freeName(): string {
  const names = new Set(
    store.steps.flatMap(({ kind, parameters }) => (kind === 'measure' ? [(parameters as { name: string }).name] : [])),
  );
  const title = measure.of.charAt(0).toUpperCase() + measure.of.slice(1);
  for (let number = 1; ; number++) if (!names.has(`${title} ${number}`)) return `${title} ${number}`;
}
watch(
  () => measure.measured,
  (measured, before) => {
    if (measured && !before) name.value = freeName();
  },
);

function keep(): void {
  if (!measure.measured || !name.value.trim()) return;
  const spots = measure.taken.map((snap): Spot => ({
    ...spotOn(store.scene, snap.row, snap.point, undefined, snap.by),
    what: snapWords(snap, unit.value),
  }));
  const [a, b, c] = spots;
  changeSteps.add('measure', { by: 'all' }, { name: name.value.trim(), of: measure.of, a, b, ...(c ? { c } : {}) });
  measure.choose(measure.of);
}
</script>

<template>
  <div class="measure" role="group" aria-label="Measure">
    <span class="kinds">
      <button v-for="kind in KINDS" :key="kind" :aria-pressed="measure.of === kind" @click="measure.choose(kind)">
        {{ kind }}
      </button>
    </span>
    <output class="measured">{{ said }}</output>
    <form v-if="measure.measured" class="keep" @submit.prevent="keep">
      <span class="line-field"
        ><input v-model="name" aria-label="Name of the measure" maxlength="200" autocomplete="off"
      /></span>
      <button class="plain link" type="submit" :disabled="!name.trim()">Keep</button>
    </form>
    <span v-if="lies" class="lies quiet">{{ lies }}</span>
  </div>
</template>

<style scoped>
.measure {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 10px;
  padding: 2px 3px 0;
  font-size: 12px;
}
.kinds button {
  background: none;
  border: 0;
  padding: 1px 4px 1px 0;
  margin-right: 4px;
  color: var(--ink-2);
  cursor: pointer;
  font-size: 12px;
}
.kinds button[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -1.5px var(--ink);
}
.measured {
  color: var(--iris);
}
.keep {
  display: inline-flex;
  align-items: baseline;
  gap: 6px;
}
.keep .line-field {
  width: 120px;
}
.lies {
  flex-basis: 100%;
}
</style>
