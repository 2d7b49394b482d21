<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { formatCount } from '@noble-prism/core/units';
import { takeOff } from '@noble-prism/core/scene/facts';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import type { Band, Bands } from '../spectrum/bands.ts';
import { restHue } from '../spectrum/hues.ts';
import { dark } from '../theme/sheetMode.ts';

const props = defineProps<{ bands: Bands; hues: string[] }>();
const store = useJob();
const selection = useSelection();
const strip = ref<HTMLElement>();
const { width } = useElementSize(strip);
const over = ref<Band>();
const total = computed(
  () => props.bands.list.reduce((sum, band) => sum + band.triangles, 0) + props.bands.rest.triangles,
);
const figures = computed(() => takeOff(store.scene));

/** Narrower than this a band cannot be hit; what follows is drawn as one fading tail. Pixels. */
const NARROWEST = 2;

const drawn = computed(() => {
  const out: { band: Band; left: number; width: number }[] = [];
  let left = 0;
  for (const band of props.bands.list) {
    const share = (band.triangles / (total.value || 1)) * width.value;
    if (share >= NARROWEST || out.length < 4) out.push({ band, left, width: share });
    else if (Math.floor(left) !== Math.floor(left + share)) out.push({ band, left, width: Math.max(1, share) });
    left += share;
  }
  return out;
});

/** Where what is too light to be told apart begins, pixels. */
const restLeft = computed(
  () => (props.bands.list.reduce((sum, band) => sum + band.triangles, 0) / (total.value || 1)) * width.value,
);

/** Bands of which something is selected. */
const chosen = computed(() => {
  const out = new Set<number>();
  // Read once: a million readings through a property take longer than all the rest.
  const { of } = props.bands;
  const { mask } = selection.deep;
  for (let row = 0; row < mask.length; row++) if (mask[row] === 1 && of[row] >= 0) out.add(of[row]);
  return out;
});
const isSelected = (band: Band) => chosen.value.has(band.rank);

/** Keys of the rows of a band. */
function keysOf({ rank }: Band): string[] {
  const out: string[] = [];
  props.bands.of.forEach((band, row) => {
    if (band === rank) out.push(store.scene.nodes.key(row));
  });
  return out;
}

function pick(band: Band, event: MouseEvent): void {
  selection.pick(keysOf(band), event.ctrlKey || event.metaKey || event.shiftKey ? 'toggle' : 'set');
}

function key(event: KeyboardEvent): void {
  if (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft') return;
  event.preventDefault();
  const { list } = props.bands;
  const at = list.findIndex(isSelected);
  const next = list[Math.max(0, Math.min(list.length - 1, at + (event.key === 'ArrowRight' ? 1 : -1)))];
  if (next) {
    selection.pick(keysOf(next));
    over.value = next;
  }
}
</script>

<template>
  <section class="spectrum" aria-label="Spectrum">
    <div
      ref="strip"
      class="strip"
      tabindex="0"
      role="listbox"
      aria-label="Triangles by part, most first. Arrow keys go from part to part."
      @keydown="key"
      @pointerleave="over = undefined"
    >
      <button
        v-for="{ band, left, width: wide } in drawn"
        :key="band.rank"
        role="option"
        tabindex="-1"
        :aria-selected="isSelected(band)"
        :aria-label="`${band.name}, ${formatCount(band.triangles)} triangles`"
        :class="{ selected: isSelected(band) }"
        :style="{
          left: `${left}px`,
          width: `${Math.max(1, wide - (wide > 4 ? 1 : 0))}px`,
          background: hues[band.rank],
        }"
        @pointerenter="over = band"
        @click="pick(band, $event)"
      />
      <span
        v-if="bands.rest.triangles"
        class="rest"
        :style="{ left: `${restLeft}px`, background: restHue(dark) }"
        :title="`${formatCount(bands.rest.bands)} lighter parts, ${formatCount(bands.rest.triangles)} triangles`"
      />
    </div>
    <p class="caption">
      <span v-if="over">
        <span class="dot" :style="{ background: hues[over.rank] }" />{{ over.name
        }}<template v-if="over.count > 1"> ×{{ formatCount(over.count) }}</template>:
        {{ formatCount(over.triangles) }} triangles, {{ ((100 * over.triangles) / (total || 1)).toFixed(1) }} %
      </span>
      <span v-else-if="total"
        >Triangles by part · {{ formatCount(figures.triangles) }} drawn,
        {{ formatCount(figures.uniqueTriangles) }} distinct</span
      >
      <span v-else class="quiet">The spectrum shows where the triangles are, once there are any.</span>
    </p>
  </section>
</template>

<style scoped>
.spectrum {
  border-top: 1px solid var(--rule);
  padding: 6px 12px 4px;
  height: 54px;
}
.strip {
  position: relative;
  height: 24px;
}
.strip button {
  position: absolute;
  top: 1px;
  bottom: 1px;
  border: 0;
  padding: 0;
  cursor: pointer;
}
.rest {
  position: absolute;
  inset: 1px 0 1px auto;
  opacity: 0.5;
}
.strip button:hover {
  top: -1px;
  bottom: -1px;
}
.strip button.selected {
  outline: 2px solid var(--iris);
  outline-offset: 1px;
  z-index: 1;
}
.caption {
  font-size: 12px;
  color: var(--ink-2);
  margin-top: 2px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.dot {
  display: inline-block;
  width: 8px;
  height: 8px;
  margin-right: 6px;
}
</style>
