<script setup lang="ts">
import { computed } from 'vue';
import { factsOf } from '@noble-prism/core/scene/facts';
import { worldBox } from '@noble-prism/core/scene/tree';
import type { PositionsOf } from '@noble-prism/core/scene/tree';
import { takeOff } from '@noble-prism/core/scene/facts';
import { takeOffOf } from '@noble-prism/core/scene/takeoff';
import { counted, formatCount, formatLength, formatNumber } from '@noble-prism/core/units';
import { useRoute, useRouter } from 'vue-router';
import { useJob } from '../stores/job.ts';
import { LOOKS, useLooks } from '../stores/looks.ts';
import { useSelection } from '../stores/selection.ts';
import type { Box } from '@noble-prism/core/scene/types';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { describeSize } from './describe.ts';
import { wideSchedule } from './finishes/wide.ts';
import { MaterialWords } from './materialWords.ts';

const props = defineProps<{ arrivals: number; positionsOf?: PositionsOf; boxOfAll?: () => Box | undefined }>();
const store = useJob();
const selection = useSelection();
const looks = useLooks();
const router = useRouter();
const route = useRoute();

/** The view is low: a table stands below it. */
const isLow = computed(() => route.params.station === 'finishes' && wideSchedule.value);
const all = computed(() => takeOff(store.scene));
/** Parts of the selection; none are named where that is nothing or everything, of which all is known. */
const chosen = computed(() =>
  selection.nodes.length > 0 && selection.parts.size < all.value.parts ? selection.parts : undefined,
);
const box = computed(() => {
  void props.arrivals;
  if (chosen.value) return worldBox(store.scene, chosen.value, props.positionsOf);
  // What the view has found, as soon as it has.
  return props.boxOfAll?.() ?? worldBox(store.scene, undefined, props.positionsOf);
});
const unit = computed(() => unitOf(store.scene));
const size = computed(() => box.value?.max.map((high, axis) => high - (box.value?.min[axis] ?? 0)));
/** Where the pivot of one row is, or else the centre of the box; metres from the origin. */
const place = computed(() => {
  if (selection.nodes.length === 1) return factsOf(store.scene).world(selection.nodes[0].id).slice(12, 15);
  return box.value?.max.map((high, axis) => (high + (box.value?.min[axis] ?? 0)) / 2);
});
const fromOrigin = computed(() => place.value && Math.hypot(...place.value));
const placeText = computed(() =>
  place.value?.map((metres) => placeIn(metres, Math.max(...(size.value ?? [1])))).join(', '),
);
const figures = computed(() => {
  if (!chosen.value) return { triangles: all.value.triangles, calls: all.value.drawCalls };
  const part = takeOffOf(store.scene, chosen.value);
  return { triangles: part.triangles, calls: part.drawCalls };
});
const heading = computed(() => {
  const { nodes } = selection;
  if (nodes.length === 0)
    return {
      title: store.job?.name ?? '',
      path: `${counted(all.value.parts, 'part')}, ${formatCount(all.value.meshes)} distinct`,
    };
  const names = new Set(nodes.map((node) => node.name));
  const title =
    names.size === 1
      ? `${[...names][0]}${nodes.length > 1 ? ` ×${nodes.length}` : ''}`
      : `${counted(nodes.length, 'row')} selected`;
  const path: string[] = [];
  for (let up = nodes.length === 1 ? nodes[0].parent : null; up !== null; up = store.scene.nodes.row(up).parent)
    path.unshift(store.scene.nodes.text('name', up));
  return { title, path: nodes.length === 1 ? path.join(' › ') : counted(selection.parts.size, 'part') };
});
const materialWords = new MaterialWords();
const materials = computed(() => materialWords.of(store.scene, chosen.value));
const upAxes = computed(() => {
  const first = store.scene.sources[0];
  const ups = new Set(store.scene.sources.map((source) => source.up));
  return first ? `${unit.value}, ${first.upAxis.axis} → m, ${ups.size > 1 ? 'mixed' : first.up}` : '';
});

/** A place in metres, as near as the size of what is there: to the centimetre for what is large, to a thousandth of what is small. */
function placeIn(metres: number, large: number): string {
  const decimals = Math.min(6, Math.max(2, 4 - Math.ceil(Math.log10(large || 1))));
  return formatNumber(Number(metres.toFixed(decimals)) + 0, 10);
}

function nextLook(): void {
  const at = LOOKS.findIndex(({ look }) => look === looks.look);
  looks.look = LOOKS[(at + 1) % LOOKS.length].look;
}

function go(station: string): void {
  void router.replace({ name: 'bench', params: { job: route.params.job, station } });
}
</script>

<template>
  <div class="block" :class="{ short: isLow }" aria-label="Title block" role="group">
    <button class="cell wide" title="Frame this (F)" @click="selection.frame">
      <strong>{{ heading.title }}</strong>
      <small class="path">{{ heading.path || '\u00a0' }}</small>
    </button>
    <button class="cell size" title="Frame this (F)" @click="selection.frame">
      <span v-if="size" class="whole">{{ describeSize(size, unit) }}</span>
      <span v-else>–</span>
      <small>{{ !size ? 'Size' : unit === 'm' ? 'x, y, z' : describeSize(size, 'm') }}</small>
    </button>
    <button class="cell" :title="`x, y, z: ${placeText ?? '–'} m. Pivots are set in Arrange`" @click="go('arrange')">
      <small
        >{{ selection.nodes.length === 1 ? 'Pivot' : 'Centre'
        }}{{ fromOrigin === undefined ? '' : `, ${formatLength(fromOrigin, 'm')} off` }}</small
      >
      <span>{{ placeText ? `${placeText} m` : '–' }}</span>
    </button>
    <button class="cell" title="Turned in Arrange" @click="go('arrange')">
      <small>Unit, up</small>
      <span>{{ upAxes }}</span>
    </button>
    <button class="cell" title="Reduced in Lighten" @click="go('lighten')">
      <small>Triangles · calls</small>
      <span>{{ formatCount(figures.triangles) }} · {{ formatCount(figures.calls) }}</span>
    </button>
    <button class="cell" title="Assigned in Finishes" @click="go('finishes')">
      <small>Material</small>
      <span class="cut" :title="materials">{{ materials || '–' }}</span>
    </button>
    <button class="cell" title="Next way of looking" @click="nextLook">
      <small>Look</small>
      <span>{{ looks.look }}</span>
    </button>
  </div>
</template>

<style scoped>
.block {
  position: absolute;
  right: 0;
  bottom: 0;
  width: min(548px, 100%);
  display: grid;
  grid-template-columns: 1.35fr 0.92fr 1.05fr 1.05fr 0.75fr;
  background: var(--raised);
  border-top: 1px solid var(--ink);
  border-left: 1px solid var(--ink);
}
.cell {
  display: grid;
  align-content: center;
  text-align: left;
  background: none;
  border: 0;
  border-right: 1px solid var(--rule);
  padding: 3px 9px;
  min-width: 0;
  cursor: pointer;
  line-height: 1.32;
}
.cell:hover {
  background: var(--paper);
}
.cell:focus-visible {
  outline-offset: -2px;
}
.cell.wide {
  grid-column: span 3;
}
.cell.size {
  grid-column: span 2;
}
.cell:nth-child(-n + 2) {
  border-bottom: 1px solid var(--rule);
}
.cell:nth-child(2),
.cell:last-child {
  border-right: 0;
}
/* Over a table across the width there is room for a view or for all of this. */
.short .cell:nth-child(n + 3) {
  display: none;
}
.short .cell:nth-child(-n + 2) {
  border-bottom: 0;
}
strong {
  font: 620 14px var(--serif);
}
strong,
.path,
.cut,
.cell span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
/* In a narrow window the cells stand in three rows, so that none is cut. */
@media (max-width: 1180px) {
  .block {
    grid-template-columns: repeat(6, minmax(0, 1fr));
  }
  .cell.wide,
  .cell.size,
  .cell:nth-child(n + 6) {
    grid-column: span 3;
  }
  .cell:nth-child(n + 3):nth-child(-n + 5) {
    grid-column: span 2;
    border-bottom: 1px solid var(--rule);
  }
  .cell:nth-child(5) {
    border-right: 0;
  }
}
/* A size without its last letters is another size: it takes a second line rather than lose them. */
.cell .whole {
  white-space: normal;
  overflow: visible;
}
small {
  color: var(--ink-2);
  font-size: 11px;
}
.cell:not(.size) small {
  white-space: nowrap;
}
</style>
