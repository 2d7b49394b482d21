<script setup lang="ts" generic="R">
/** A table that sorts by its heads, whose columns are drawn wider, and that draws only the rows in sight. */
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, reactive, ref, shallowRef } from 'vue';
import type { TableColumn } from './dataTable.ts';
import { sortedBy } from './dataTable.ts';

const props = defineProps<{
  columns: readonly TableColumn<R>[];
  rows: readonly R[];
  keyOf(row: R): string;
  label: string;
  /** Rows that stand out, by key. */
  chosen?: ReadonlySet<string>;
  /** Of a row, for its colour. */
  toneOf?(row: R): string | undefined;
  rowHeight?: number;
  /** Pixels, before it scrolls by itself. */
  tallest?: number;
}>();
const emit = defineEmits<{ choose: [row: R, event: MouseEvent | KeyboardEvent] }>();

const LEAST = 36;
const sort = shallowRef<{ id: string; descending: boolean }>();
const widths = reactive<Record<string, number>>({});
const scroller = ref<HTMLElement>();
const height = computed(() => props.rowHeight ?? 26);

const sorted = computed(() => {
  const column = props.columns.find(({ id }) => id === sort.value?.id);
  return column?.by ? sortedBy(props.rows, column.by, sort.value?.descending ?? false) : props.rows;
});
const grid = computed(() =>
  props.columns.map(({ id, width }) => (widths[id] ? `${widths[id]}px` : (width ?? 'minmax(0, 1fr)'))).join(' '),
);
const virtual = useVirtualizer(
  computed(() => ({
    count: sorted.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => height.value,
    overscan: 8,
    // Before the first measurement a screenful is there.
    initialRect: { width: 0, height: props.tallest ?? 600 },
  })),
);

/** First up or down, as suits the column, then the other way, then as given. */
function sortBy({ id, figure }: TableColumn<R>): void {
  const first = figure ?? false;
  if (sort.value?.id !== id) sort.value = { id, descending: first };
  else if (sort.value.descending === first) sort.value = { id, descending: !first };
  else sort.value = undefined;
}
function ariaSort(id: string): 'ascending' | 'descending' | 'none' {
  if (sort.value?.id !== id) return 'none';
  return sort.value.descending ? 'descending' : 'ascending';
}

/** Pixels, of a column that was not made wider or narrower about. */
const widthOf = ({ id, width }: TableColumn<R>) => Math.round(widths[id] ?? (Number.parseFloat(width ?? '') || USUAL));
/** The usual width, and one that hardly any column has, for those who hear how wide it is. */
const [USUAL, MOST] = [100, 1000];

/** Drags the right border of a column. */
function drag(event: PointerEvent, id: string): void {
  const grip = event.currentTarget as HTMLElement;
  const start = { x: event.clientX, width: grip.parentElement?.getBoundingClientRect().width ?? 100 };
  grip.setPointerCapture(event.pointerId);
  const move = ({ clientX }: PointerEvent) => (widths[id] = Math.max(LEAST, start.width + clientX - start.x));
  grip.addEventListener('pointermove', move);
  grip.addEventListener('lostpointercapture', () => grip.removeEventListener('pointermove', move), { once: true });
}
function gripKey(event: KeyboardEvent, id: string): void {
  if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
  event.preventDefault();
  const now = (event.currentTarget as HTMLElement).parentElement?.getBoundingClientRect().width ?? 100;
  widths[id] = Math.max(LEAST, now + (event.key === 'ArrowLeft' ? -12 : 12));
}
</script>

<template>
  <div
    ref="scroller"
    class="data-table"
    role="table"
    :aria-label="label"
    :aria-rowcount="rows.length + 1"
    :style="{ '--grid': grid, ...(tallest ? { maxHeight: `${tallest}px` } : {}) }"
  >
    <div class="heads" role="row" aria-rowindex="1">
      <div
        v-for="(column, i) in columns"
        :key="column.id"
        role="columnheader"
        :class="{ figure: column.figure }"
        :aria-sort="column.by ? ariaSort(column.id) : undefined"
      >
        <button v-if="column.by" class="plain" :title="`Sort by ${column.title}`" @click="sortBy(column)">
          {{ column.title }}{{ sort?.id === column.id ? (sort.descending ? ' ↓' : ' ↑') : '' }}
        </button>
        <slot v-else :name="`head-${column.id}`">{{ column.title }}</slot>
        <span
          v-if="i < columns.length - 1 && column.title"
          class="grip"
          role="separator"
          aria-orientation="vertical"
          tabindex="0"
          :aria-label="`Width of ${column.title}`"
          :aria-valuenow="widthOf(column)"
          :aria-valuemin="LEAST"
          :aria-valuemax="Math.max(MOST, widthOf(column))"
          :aria-valuetext="`${widthOf(column)} pixels`"
          @pointerdown.prevent="drag($event, column.id)"
          @keydown="gripKey($event, column.id)"
          @dblclick="delete widths[column.id]"
        />
      </div>
    </div>
    <div class="body" role="rowgroup" :style="{ height: `${virtual.getTotalSize()}px` }">
      <div
        v-for="item in virtual.getVirtualItems()"
        :key="keyOf(sorted[item.index])"
        role="row"
        :aria-rowindex="item.index + 2"
        class="line"
        :class="[toneOf?.(sorted[item.index]), { chosen: chosen?.has(keyOf(sorted[item.index])) }]"
        :style="{ transform: `translateY(${item.start}px)`, height: `${height}px` }"
        @click="emit('choose', sorted[item.index], $event)"
      >
        <div v-for="column in columns" :key="column.id" role="cell" :class="{ figure: column.figure }">
          <slot :name="`cell-${column.id}`" :row="sorted[item.index]" :index="item.index">{{
            column.text?.(sorted[item.index])
          }}</slot>
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.data-table {
  overflow: auto;
  font-size: 12px;
  scrollbar-width: thin;
}
.heads,
.line {
  display: grid;
  grid-template-columns: var(--grid);
  gap: 0 8px;
}
.heads {
  position: sticky;
  top: 0;
  z-index: 1;
  background: inherit;
  background: var(--table-sheet, var(--raised));
  color: var(--ink-2);
  border-bottom: 1px solid var(--rule);
  align-items: end;
}
.heads > div {
  position: relative;
  padding: 2px 0;
  line-height: 1.25;
}
.heads .figure {
  white-space: normal;
}
.heads button {
  padding: 0;
  text-align: inherit;
}
.grip {
  position: absolute;
  top: 0;
  bottom: 0;
  right: -6px;
  width: 5px;
  cursor: col-resize;
  touch-action: none;
}
.grip:hover {
  background: var(--rule);
}
.body {
  position: relative;
}
.line {
  position: absolute;
  inset: 0 0 auto;
  align-items: center;
  border-bottom: 1px solid var(--rule-soft);
}
.line.chosen {
  background: var(--iris-wash);
}
.line > div {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
