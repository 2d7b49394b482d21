<script setup lang="ts">
/** Parts with measured figures, worst first; a click selects the part in all its places. */
import { computed } from 'vue';
import type { MeasuredParts } from '@noble-prism/core/scene/measured';
import { useSelection } from '../stores/selection.ts';
import DataTable from './DataTable.vue';
import type { TableColumn } from './dataTable.ts';

export interface Figure {
  id: string;
  /** With its unit. */
  title: string;
  value(part: MeasuredParts): number;
  text(part: MeasuredParts): string;
}

const props = defineProps<{
  label: string;
  parts: readonly MeasuredParts[];
  figures: readonly Figure[];
  /** True where the figure is more than was allowed. */
  beyond?(part: MeasuredParts): boolean;
}>();
const selection = useSelection();

const columns = computed<TableColumn<MeasuredParts>[]>(() => [
  { id: 'name', title: 'Part', by: ({ name }) => name },
  ...props.figures.map(({ id, title, value, text }) => ({ id, title, text, by: value, figure: true, width: '56px' })),
]);
</script>

<template>
  <DataTable
    :label="label"
    :columns="columns"
    :rows="parts"
    :key-of="({ keys }) => keys[0]"
    :tone-of="(part) => (beyond?.(part) ? 'warn' : undefined)"
    :tallest="420"
  >
    <template #cell-name="{ row }">
      <button class="plain name" :title="`Select ${row.name}`" @click="selection.pick(row.keys)">
        {{ row.name }}<span v-if="row.keys.length > 1" class="quiet"> ×{{ row.keys.length }}</span>
      </button>
    </template>
  </DataTable>
</template>

<style scoped>
.name {
  max-width: 100%;
  padding: 2px 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
