<script setup lang="ts">
/** Parts that no rule names, gathered by layer or by the material that they came with: a material makes a rule. */
import { computed, ref } from 'vue';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { shownName } from '@noble-prism/core/finish/plainColour';
import { withRule } from '@noble-prism/core/finish/scopes';
import { NO_RULE } from '@noble-prism/core/finish/schedule';
import { PART } from '@noble-prism/core/scene/nodes';
import type { Selector } from '@noble-prism/core/select/select';
import { formatCount } from '@noble-prism/core/units';
import DataTable from '../../parts/DataTable.vue';
import type { TableColumn } from '../../parts/dataTable.ts';
import SearchField from '../../parts/SearchField.vue';
import { useSelection } from '../../stores/selection.ts';
import MaterialField from './MaterialField.vue';
import type { ShownSchedule } from './schedule.ts';

const props = defineProps<{ schedule: ShownSchedule; wide: boolean }>();
const selection = useSelection();
const sought = ref('');

interface Group {
  key: string;
  title: string;
  which: Selector;
  colour: string;
  rows: number[];
}

/** On a layer first; what is on none by its materials. */
const groups = computed<Group[]>(() => {
  const { counts, before } = props.schedule;
  const winners = counts.value?.winners;
  const { nodes, materials } = before.value;
  if (!winners) return [];
  const { kind, layer, materials: lists } = nodes.columns;
  const byLayer = new Map<number, number[]>();
  const byList = new Map<number, number[]>();
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] !== PART || winners[row] !== NO_RULE) continue;
    const [map, key] = layer[row] > 0 ? [byLayer, layer[row]] : [byList, lists[row]];
    const rows = map.get(key);
    if (rows) rows.push(row);
    else map.set(key, [row]);
  }
  const ofMaterial = new Map<string, number[]>();
  for (const [list, rows] of byList)
    for (const word of new Set(nodes.tables.lists.get(list))) {
      const id = nodes.tables.words.get(word);
      ofMaterial.set(id, [...(ofMaterial.get(id) ?? []), ...rows]);
    }
  return [
    ...[...byLayer].map(([word, rows]): Group => {
      const name = nodes.tables.words.get(word);
      return { key: `layer ${name}`, title: name, which: { by: 'layer', layers: [name] }, colour: '', rows };
    }),
    ...[...ofMaterial].map(([id, rows]): Group => ({
      key: `material ${id}`,
      title: id === 'none' ? 'No material' : shownName(materials[id]?.name ?? id),
      which: { by: 'material', materials: [id] },
      colour: materials[id] ? hexFromLinear(materials[id].baseColor) : '',
      rows,
    })),
  ];
});
const found = computed(() => {
  const text = sought.value.trim().toLowerCase();
  return text ? groups.value.filter(({ title }) => title.toLowerCase().includes(text)) : groups.value;
});

const columns: TableColumn<Group>[] = [
  { id: 'title', title: 'Layer, or colour as received', by: ({ title }) => title },
  { id: 'parts', title: 'Parts', by: ({ rows }) => rows.length, figure: true, width: '44px' },
  { id: 'material', title: 'Material', width: props.wide ? '220px' : '118px' },
];

function give({ title, which }: Group, material: string | undefined): void {
  if (material) props.schedule.change(`Rule for ${title} added`, (rules) => withRule(rules, { which, material }));
}
function pick({ rows }: Group): void {
  selection.pick(rows.map((row) => props.schedule.before.value.nodes.key(row)));
}
</script>

<template>
  <SearchField v-model="sought" :count="groups.length" of="parts without a rule" />
  <DataTable
    v-if="groups.length"
    label="Parts without a rule"
    :columns="columns"
    :rows="found"
    :key-of="({ key }) => key"
    :row-height="30"
    :tallest="360"
  >
    <template #cell-title="{ row }">
      <button class="plain title" :title="`Select ${row.title}`" @click="pick(row)">
        <i v-if="row.colour" class="material-dot" :style="{ background: row.colour }" /><span>{{ row.title }}</span>
      </button>
    </template>
    <template #cell-parts="{ row }">
      <span class="quiet">{{ formatCount(row.rows.length) }}</span>
    </template>
    <template #cell-material="{ row }">
      <MaterialField
        :label="`Material for ${row.title}`"
        :model-value="undefined"
        placeholder="give one…"
        @update:model-value="give(row, $event)"
      />
    </template>
  </DataTable>
</template>

<style scoped>
.title {
  display: flex;
  align-items: center;
  max-width: 100%;
  padding: 3px 2px;
}
.title > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
:deep([role='cell'] .p-select) {
  border-bottom: 0;
}
</style>
