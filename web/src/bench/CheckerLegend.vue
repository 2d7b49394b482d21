<script setup lang="ts">
/** What the colours of the checker look mean, and which set of coordinates it shows. */
import { USUAL_PIXELS } from '@noble-prism/core/finish/texels';
import { formatCount } from '@noble-prism/core/units';
import { useLooks } from '../stores/looks.ts';
import { DENSITIES, NO_COORDINATES } from '../view/checker.ts';

const looks = useLooks();
const SETS = [
  { set: 0, title: 'first set' },
  { set: 1, title: 'second set' },
] as const;
const gradient = `linear-gradient(90deg, ${DENSITIES.map(({ colour }) => colour).join(', ')})`;
</script>

<template>
  <div class="legend" role="group" aria-label="Checker">
    <div class="scale">
      <div class="ramp" :style="{ background: gradient }" />
      <div class="ticks">
        <span v-for="{ perMetre } in DENSITIES" :key="perMetre">{{ formatCount(perMetre) }}</span>
      </div>
      <div class="quiet">pixels a metre; {{ formatCount(USUAL_PIXELS) }} px where there is no picture</div>
    </div>
    <div class="more">
      <span class="none"><i :style="{ background: NO_COORDINATES }" />no coordinates</span>
      <span>
        <button
          v-for="{ set, title } in SETS"
          :key="set"
          class="plain"
          :aria-pressed="looks.set === set"
          @click="looks.set = set"
        >
          {{ title }}
        </button>
      </span>
    </div>
  </div>
</template>

<style scoped>
.legend {
  display: flex;
  gap: 18px;
  width: max-content;
  padding: 6px 10px 5px;
  margin-top: 6px;
  background: var(--panel, var(--sheet));
  border: 1px solid var(--rule);
  font-size: 11px;
  color: var(--ink-2);
}
.scale {
  width: 252px;
}
.ramp {
  height: 8px;
}
.ticks {
  display: flex;
  justify-content: space-between;
  color: var(--ink);
  font-variant-numeric: tabular-nums;
}
.more {
  display: grid;
  align-content: space-between;
}
.none i {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
}
button {
  font-size: 11px;
}
button + button {
  margin-left: 6px;
}
button[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -1.5px var(--ink);
}
</style>
