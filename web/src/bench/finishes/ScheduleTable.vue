<script setup lang="ts">
/** The rules of a finish schedule as a table: in the order of precedence, with what each takes hold of. */
import { computed } from 'vue';
import type { FinishRule } from '@noble-prism/core/steps/finishes';
import type { Taken } from '@noble-prism/core/finish/schedule';
import { select } from '@noble-prism/core/select/select';
import { counted, formatCount } from '@noble-prism/core/units';
import { useSelection } from '../../stores/selection.ts';
import DataTable from '../../parts/DataTable.vue';
import type { TableColumn } from '../../parts/dataTable.ts';
import { useKnown } from '../known.ts';
import MaterialField from './MaterialField.vue';
import { useMaterialChoices } from './materialChoices.ts';
import { useRuleDrag } from './ruleDrag.ts';
import type { ShownSchedule } from './schedule.ts';

const props = defineProps<{ schedule: ShownSchedule; wide: boolean }>();
/** Place of the rule that is edited. */
const opened = defineModel<number>('opened');
const selection = useSelection();
const known = useKnown();
const { nameOf } = useMaterialChoices();

interface Line {
  rule: FinishRule;
  index: number;
}
const lines = computed<Line[]>(() => props.schedule.rules.value.map((rule, index) => ({ rule, index })));

/** Across the width a line for each rule; at the side two, as both words and material have to be read. */
const columns = computed<TableColumn<Line>[]>(() =>
  props.wide
    ? [
        { id: 'place', title: '', width: '38px' },
        { id: 'on', title: 'On', width: '20px' },
        { id: 'which', title: 'Which parts', width: 'minmax(120px, 1.4fr)' },
        { id: 'material', title: 'Material', width: 'minmax(120px, 1.2fr)' },
        { id: 'parts', title: 'Parts', figure: true, width: '58px' },
        { id: 'triangles', title: 'Triangles', figure: true, width: '76px' },
        { id: 'overrides', title: 'Wins over', width: 'minmax(90px, 1fr)' },
        { id: 'overridden', title: 'Loses to', width: 'minmax(90px, 1fr)' },
        { id: 'tools', title: '', width: '44px' },
      ]
    : [
        { id: 'place', title: '', width: '36px' },
        { id: 'which', title: 'Which parts, and their material', width: 'minmax(0, 1fr)' },
        { id: 'parts', title: 'Parts', figure: true, width: '44px' },
        { id: 'on', title: 'On', width: '18px' },
      ],
);

const line = (index: number) => props.schedule.line(index);
const isIdle = (index: number) => line(index)?.parts === 0 && props.schedule.rules.value[index]?.on !== false;
const wordsOf = (rule: FinishRule) => known.rule(rule.which);

/** `rule 3 on 12, rule 5 on 4`. */
function takenWords(taken: readonly Taken[] | undefined): string {
  if (!taken?.length) return '';
  const words = taken.slice(0, 3).map(({ rule, parts }) => `rule ${rule + 1} on ${formatCount(parts)}`);
  return taken.length > 3 ? `${words.join(', ')} and ${taken.length - 3} more` : words.join(', ');
}
const takenTitle = (taken: readonly Taken[] | undefined, verb: string) =>
  taken?.map(({ rule, parts }) => `${verb} rule ${rule + 1} on ${counted(parts, 'part')}`).join('\n');

const materialOf = ({ rule }: Line) => ({
  label: `Material for ${wordsOf(rule)}`,
  modelValue: rule.material,
  placeholder: nameOf(rule.material),
});
function give(index: number, material: string | undefined): void {
  if (!material) return;
  props.schedule.change(`Rule ${index + 1} gives ${nameOf(material)}`, (rules) =>
    rules.map((rule, i) => (i === index ? { ...rule, material } : rule)),
  );
}

function outline(rule?: FinishRule): void {
  selection.outlined = rule ? select(props.schedule.before.value, rule.which) : undefined;
}

function move(from: number, to: number): void {
  if (to < 0 || to >= lines.value.length) return;
  const isOpened = opened.value === from;
  props.schedule.change(`Rule ${from + 1} moved`, (rules) => rules.toSpliced(from, 1).toSpliced(to, 0, rules[from]));
  opened.value = isOpened ? to : undefined;
}
const { dragged, over, begin } = useRuleDrag(move);

function moveByKey(event: KeyboardEvent, index: number): void {
  if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
  event.preventDefault();
  move(index, index + (event.key === 'ArrowUp' ? -1 : 1));
}

function toggle(index: number): void {
  const { on } = props.schedule.rules.value[index];
  props.schedule.change(`Rule ${index + 1} switched ${on === false ? 'on' : 'off'}`, (rules) =>
    rules.map((rule, i) => (i === index ? { ...rule, on: rule.on === false } : rule)),
  );
}
function duplicate(index: number): void {
  props.schedule.change(`Rule ${index + 1} duplicated`, (rules) => rules.toSpliced(index + 1, 0, { ...rules[index] }));
  opened.value = index + 1;
}
function remove(index: number): void {
  props.schedule.change(`Rule ${index + 1} deleted`, (rules) => rules.toSpliced(index, 1));
  opened.value = undefined;
}

function tone({ index, rule }: Line): string {
  return [
    rule.on === false ? 'off' : '',
    dragged.value === index ? 'dragged' : '',
    dragged.value !== undefined && over.value === index && over.value !== dragged.value ? (over.value > dragged.value ? 'drop-below' : 'drop-above') : '',
  ].join(' '); // prettier-ignore
}
defineExpose({ duplicate, remove });
</script>

<template>
  <!-- Heights of lines are remembered: another look is another table. -->
  <DataTable
    :key="String(wide)"
    label="Finish schedule"
    :columns="columns"
    :rows="lines"
    :key-of="({ index }) => String(index)"
    :chosen="new Set(opened === undefined ? [] : [String(opened)])"
    :tone-of="tone"
    :row-height="wide ? 30 : 52"
    :tallest="wide ? undefined : 416"
    class="schedule-table"
    :class="{ wide }"
    @pointerleave="outline()"
  >
    <template #cell-place="{ row }">
      <button
        class="plain grip-cell"
        :aria-label="`Rule ${row.index + 1}: up and down moves it`"
        title="Drag, or move with the arrow keys. Lower rules win."
        @pointerdown="begin($event, row.index)"
        @keydown="moveByKey($event, row.index)"
      >
        <svg viewBox="0 0 6 10" aria-hidden="true">
          <path d="M1 1h1M4 1h1M1 5h1M4 5h1M1 9h1M4 9h1" stroke="currentColor" stroke-width="1.4" />
        </svg>
        {{ row.index + 1 }}
      </button>
    </template>
    <template #cell-on="{ row }">
      <input
        type="checkbox"
        :checked="row.rule.on !== false"
        :aria-label="`Rule ${row.index + 1} is on`"
        @change="toggle(row.index)"
      />
    </template>
    <template #cell-which="{ row }">
      <button
        class="plain which"
        :title="`${wordsOf(row.rule)}${row.rule.note ? `\n${row.rule.note}` : ''}`"
        :aria-expanded="opened === row.index"
        @click="opened = opened === row.index ? undefined : row.index"
        @pointerenter="outline(row.rule)"
        @focus="outline(row.rule)"
        @blur="outline()"
      >
        <span class="words">{{ wordsOf(row.rule) }}</span>
      </button>
      <MaterialField
        v-if="!wide"
        class="below"
        v-bind="materialOf(row)"
        @update:model-value="give(row.index, $event)"
      />
    </template>
    <template #cell-material="{ row }">
      <MaterialField v-bind="materialOf(row)" @update:model-value="give(row.index, $event)" />
    </template>
    <template #cell-parts="{ row }">
      <span v-if="row.rule.on !== false && line(row.index)" :class="isIdle(row.index) ? 'warn' : 'quiet'">{{
        isIdle(row.index) ? '! 0' : formatCount(line(row.index)!.parts)
      }}</span>
    </template>
    <template #cell-triangles="{ row }">
      <span v-if="row.rule.on !== false && line(row.index)" class="quiet">{{
        formatCount(line(row.index)!.triangles)
      }}</span>
    </template>
    <template #cell-overrides="{ row }">
      <span class="quiet" :title="takenTitle(line(row.index)?.overrides, 'wins over')">{{
        takenWords(line(row.index)?.overrides)
      }}</span>
    </template>
    <template #cell-overridden="{ row }">
      <span class="quiet" :title="takenTitle(line(row.index)?.overridden, 'loses to')">{{
        takenWords(line(row.index)?.overridden)
      }}</span>
    </template>
    <template #cell-tools="{ row }">
      <button
        class="plain tool"
        :aria-label="`Duplicate rule ${row.index + 1}`"
        title="Duplicate"
        @click="duplicate(row.index)"
      >
        <svg viewBox="0 0 12 12" aria-hidden="true">
          <path d="M1.5 1.5h6v6h-6zM4.5 9.5v1h6v-6h-1" fill="none" stroke="currentColor" />
        </svg>
      </button>
      <button class="plain tool" :aria-label="`Delete rule ${row.index + 1}`" title="Delete" @click="remove(row.index)">
        ×
      </button>
    </template>
  </DataTable>
</template>

<style scoped>
.schedule-table.wide {
  height: 100%;
}
.grip-cell {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  padding: 3px 2px;
  cursor: grab;
  touch-action: none;
  color: var(--ink-2);
}
.grip-cell svg {
  width: 6px;
  height: 10px;
  flex: none;
}
.which {
  display: grid;
  width: 100%;
  padding: 3px 2px;
  text-align: left;
}
.below {
  width: 100%;
  margin-top: -4px;
  font-size: 12px;
}
.schedule-table :deep([role='cell'] .p-select) {
  border-bottom: 0;
}
.words {
  overflow: hidden;
  text-overflow: ellipsis;
}
.tool {
  padding: 2px 4px;
}
.tool svg {
  width: 12px;
  height: 12px;
  vertical-align: -2px;
}
.schedule-table :deep(.line.off) {
  color: var(--ink-2);
}
.schedule-table :deep(.line.off .words) {
  text-decoration: line-through;
}
.schedule-table :deep(.line.dragged) {
  opacity: 0.5;
}
.schedule-table :deep(.line.drop-above) {
  box-shadow: inset 0 2px var(--iris);
}
.schedule-table :deep(.line.drop-below) {
  box-shadow: inset 0 -2px var(--iris);
}
</style>
