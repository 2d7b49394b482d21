<script setup lang="ts">
/** The heads of the ledger's columns: sorted by a click, made wider or narrower by their left border. */
import { columnWidth, LIMITS, resetColumnWidth, setColumnWidth } from './columnWidths.ts';
import { NAME } from './ledgerColumns.ts';
import type { Column } from './ledgerColumns.ts';
import type { SortBy } from './rows.ts';

const props = defineProps<{ columns: readonly Column[]; sort: SortBy; descending: boolean }>();
const emit = defineEmits<{ sort: [column: Column] }>();

/** Drags the left border of a column: to the left is wider. */
function drag(event: PointerEvent, id: string): void {
  const grip = event.currentTarget as HTMLElement;
  const start = { x: event.clientX, width: columnWidth(id) };
  grip.setPointerCapture(event.pointerId);
  const move = ({ clientX }: PointerEvent) => setColumnWidth(id, start.width + start.x - clientX);
  grip.addEventListener('pointermove', move);
  grip.addEventListener('lostpointercapture', () => grip.removeEventListener('pointermove', move), { once: true });
}

function gripKey(event: KeyboardEvent, id: string): void {
  if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
  event.preventDefault();
  event.stopPropagation();
  setColumnWidth(id, columnWidth(id) + (event.key === 'ArrowLeft' ? 12 : -12));
}

function ariaSort(id: string): 'ascending' | 'descending' | 'none' {
  if (props.sort !== id) return 'none';
  return props.descending ? 'descending' : 'ascending';
}
</script>

<template>
  <div class="head" role="row">
    <div v-for="column in [NAME, ...columns]" :key="column.id" role="columnheader" :aria-sort="ariaSort(column.id)">
      <span
        v-if="column !== NAME"
        class="grip"
        role="separator"
        aria-orientation="vertical"
        tabindex="0"
        :aria-label="`Width of ${column.title}`"
        :aria-valuenow="columnWidth(column.id)"
        :aria-valuemin="LIMITS.least"
        :aria-valuemax="LIMITS.most"
        title="Drag to make the column wider or narrower; double click sets it back"
        @pointerdown.stop.prevent="drag($event, column.id)"
        @dblclick.stop="resetColumnWidth(column.id)"
        @keydown="gripKey($event, column.id)"
      />
      <button tabindex="-1" :class="{ number: column.isFigure, still: !column.sort }" @click="emit('sort', column)">
        {{ column.title }}<span v-if="column.unit">, {{ column.unit }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: var(--columns);
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
  height: 26px;
}
.head > div {
  display: grid;
  position: relative;
  min-width: 0;
}
.grip {
  position: absolute;
  inset: 4px auto 4px -4px;
  width: 8px;
  cursor: col-resize;
  touch-action: none;
}
.grip::after {
  content: '';
  position: absolute;
  inset: 0 auto 0 4px;
  border-left: 1px solid var(--rule);
}
.head button {
  overflow: hidden;
  text-overflow: ellipsis;
  background: none;
  border: 0;
  text-align: left;
  padding: 0 8px;
  font-size: 12px;
  white-space: nowrap;
  color: var(--ink-2);
  cursor: pointer;
}
.head button.still {
  cursor: default;
}
.head button.number {
  text-align: right;
}
[aria-sort='ascending'] > button::after {
  content: ' ↑';
}
[aria-sort='descending'] > button::after {
  content: ' ↓';
}
</style>
