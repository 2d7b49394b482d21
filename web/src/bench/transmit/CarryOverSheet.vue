<script setup lang="ts">
/** The carry-over sheet: what of the job each target carries, changes or loses, and which format would carry it, before anything is sent. */
import Dialog from 'primevue/dialog';
import { computed, ref } from 'vue';
import { carryOver } from '@noble-prism/core/transmit/carryOver';
import type { CarryOverLine } from '@noble-prism/core/transmit/carryOver';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import { writerFor } from '@noble-prism/core/write/formats';
import EmptyState from '../../parts/EmptyState.vue';
import { useJob } from '../../stores/job.ts';
import { sheetOf } from './carried.ts';

const props = defineProps<{ visible: boolean; targets: readonly Target[] }>();
const emit = defineEmits<{ 'update:visible': [boolean] }>();
const store = useJob();
const troubled = ref(false);
const rows = computed(() => {
  if (!props.visible) return [];
  const all = sheetOf(props.targets.map(({ settings }) => carryOver(store.scene, settings)));
  return troubled.value ? all.filter(({ cells }) => cells.some(({ state }) => state !== 'carried')) : all;
});
const MARKS: Record<CarryOverLine['state'], string> = { carried: '✓', changed: '≈', lost: '✗' };
const TONES: Record<CarryOverLine['state'], string> = { carried: 'good', changed: '', lost: 'bad' };
const words = ({ state, how }: CarryOverLine) => how ?? state;
/** A few of those that would carry it are enough. */
const others = ({ others: list = [] }: CarryOverLine) =>
  list.length === 0
    ? ''
    : `carried by ${list.slice(0, 3).join(' · ')}${list.length > 3 ? ` and ${list.length - 3} more` : ''}`;
</script>

<template>
  <Dialog
    :visible="visible"
    modal
    dismissable-mask
    header="Carry-over sheet"
    :style="{ width: `${Math.min(96, 44 + targets.length * 18)}vw`, maxWidth: '96vw' }"
    @update:visible="emit('update:visible', $event)"
  >
    <EmptyState v-if="!targets.length">No target is switched on.</EmptyState>
    <template v-else>
      <p class="legend">
        <span><b class="good">✓</b> carried</span><span><b>≈</b> in another way</span
        ><span><b class="bad">✗</b> lost</span>
        <label><input v-model="troubled" type="checkbox" /> only what is changed or lost</label>
      </p>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th scope="col">Of the job</th>
              <th v-for="target in targets" :key="target.id" scope="col">
                {{ target.name }}<small class="quiet">{{ writerFor(target.settings.format)?.title }}</small>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.what">
              <th scope="row">{{ row.title }}<small v-if="row.amount" class="quiet">{{ row.amount }}</small></th>
              <td v-for="(cell, i) in row.cells" :key="targets[i].id">
                <span :class="TONES[cell.state]"
                  ><b aria-hidden="true">{{ MARKS[cell.state] }}</b> {{ words(cell) }}</span
                ><small v-if="others(cell)" class="quiet">{{ others(cell) }}</small>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </Dialog>
</template>

<style scoped>
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin-bottom: 8px;
  color: var(--ink-2);
}
.legend label {
  margin-left: auto;
  display: flex;
  gap: 6px;
  align-items: center;
}
.scroll {
  max-height: 68vh;
  overflow: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  font-weight: 500;
  text-align: left;
  vertical-align: top;
  padding: 5px 12px 5px 0;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--p-dialog-background);
  border-bottom: 1px solid var(--rule);
}
td {
  vertical-align: top;
  padding: 5px 12px 5px 0;
}
tbody tr {
  border-bottom: 1px solid var(--rule-soft);
}
small {
  display: block;
  font-size: 12px;
  font-weight: 400;
}
b {
  display: inline-block;
  width: 14px;
}
</style>
