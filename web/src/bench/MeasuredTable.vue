<script setup lang="ts">
/** Parts with measured figures, worst first; a click selects the part in all its places. */
import type { MeasuredParts } from '@noble-prism/core/scene/measured';
import { useSelection } from '../stores/selection.ts';

const ROWS = 60;

defineProps<{
  parts: readonly MeasuredParts[];
  /** Heads of the columns of figures, with their units. */
  heads: readonly string[];
  figures(part: MeasuredParts): readonly string[];
  /** True where the figure is more than was allowed. */
  beyond?(part: MeasuredParts): boolean;
}>();
const selection = useSelection();
</script>

<template>
  <table>
    <thead>
      <tr>
        <th scope="col">Part</th>
        <th v-for="head in heads" :key="head" scope="col" class="figure">{{ head }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="part in parts.slice(0, ROWS)" :key="part.keys[0]" :class="{ warn: beyond?.(part) }">
        <td class="name">
          <button class="plain" :title="part.name" @click="selection.pick(part.keys)">
            {{ part.name }}<span v-if="part.keys.length > 1" class="quiet"> ×{{ part.keys.length }}</span>
          </button>
        </td>
        <td v-for="(figure, i) in figures(part)" :key="i" class="figure">{{ figure }}</td>
      </tr>
    </tbody>
  </table>
  <p v-if="parts.length > ROWS" class="quiet">and {{ parts.length - ROWS }} more</p>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  font-size: 12px;
}
th {
  font-weight: 400;
  text-align: left;
  color: var(--ink-2);
  padding: 2px 0;
}
th.figure {
  width: 68px;
  padding-left: 8px;
  text-align: right;
  /* A head and its unit stand above each other rather than run into the next. */
  white-space: normal;
  vertical-align: bottom;
  line-height: 1.2;
}
.name {
  overflow: hidden;
}
tr {
  border-bottom: 1px solid var(--rule-soft);
}
.name button {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  padding: 2px 0;
}
</style>
