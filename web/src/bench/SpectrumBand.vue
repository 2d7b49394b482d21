<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { formatCount } from '@noble-prism/core/units';
import { takeOff } from '@noble-prism/core/scene/takeoff';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import type { Band } from '../stores/hues.ts';

const props = defineProps<{ bands: Band[] }>();
const store = useJob();
const selection = useSelection();
const strip = ref<HTMLElement>();
const { width } = useElementSize(strip);
const over = ref<Band>();
const total = computed(() => props.bands.reduce((sum, band) => sum + band.triangles, 0));
const figures = computed(() => takeOff(store.scene));

/** Narrower than this a band cannot be hit; what follows is drawn as one fading tail. Pixels. */
const NARROWEST = 2;

const drawn = computed(() => {
  const out: { band: Band; left: number; width: number }[] = [];
  let left = 0;
  for (const band of props.bands) {
    const share = (band.triangles / (total.value || 1)) * width.value;
    if (share >= NARROWEST || out.length < 4) out.push({ band, left, width: share });
    else if (Math.floor(left) !== Math.floor(left + share)) out.push({ band, left, width: Math.max(1, share) });
    left += share;
  }
  return out;
});

const isSelected = (band: Band) => selection.deep.size > 0 && band.nodes.some((node) => selection.deep.has(node));

function pick(band: Band, event: MouseEvent): void {
  selection.pick(band.keys, event.ctrlKey || event.metaKey || event.shiftKey ? 'toggle' : 'set');
}

function key(event: KeyboardEvent): void {
  if (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft') return;
  event.preventDefault();
  const at = props.bands.findIndex(isSelected);
  const next = props.bands[Math.max(0, Math.min(props.bands.length - 1, at + (event.key === 'ArrowRight' ? 1 : -1)))];
  if (next) {
    selection.pick(next.keys);
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
        :key="band.key"
        role="option"
        tabindex="-1"
        :aria-selected="isSelected(band)"
        :aria-label="`${band.name}, ${formatCount(band.triangles)} triangles`"
        :class="{ selected: isSelected(band) }"
        :style="{ left: `${left}px`, width: `${Math.max(1, wide - (wide > 4 ? 1 : 0))}px`, background: band.hue }"
        @pointerenter="over = band"
        @click="pick(band, $event)"
      />
    </div>
    <p class="caption">
      <span v-if="over">
        <span class="dot" :style="{ background: over.hue }" />{{ over.name
        }}<template v-if="over.nodes.length > 1"> ×{{ over.nodes.length }}</template
        >: {{ formatCount(over.triangles) }} triangles, {{ ((100 * over.triangles) / (total || 1)).toFixed(1) }} %
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
