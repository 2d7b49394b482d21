<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import type { Bands } from '../spectrum/bands.ts';
import LedgerLine from './LedgerLine.vue';
import { columnsOf, sortAfter } from './ledgerColumns.ts';
import type { Column } from './ledgerColumns.ts';
import { gridOf } from './columnWidths.ts';
import { useLedgerDrag } from './ledgerDrag.ts';
import LedgerHead from './LedgerHead.vue';
import { leaveOutSelection } from './actions.ts';
import { changeSteps } from './stepEdits.ts';
import { LedgerTree } from './rows.ts';
import type { Row, SortBy } from './rows.ts';

const props = defineProps<{ station: string; bands: Bands; hues: string[] }>();
const emit = defineEmits<{ menu: [event: MouseEvent] }>();
const store = useJob();
const selection = useSelection();

const ROW = 26;
/** A level of more rows is not opened by itself. */
const MOST_OPENED = 1000;
const expanded = shallowRef<ReadonlySet<string>>(new Set());
const filter = ref('');
const sort = ref<SortBy>('tree');
const descending = ref(false);
const cursor = ref(0);
const anchor = ref(0);
const renaming = ref<string>();
const scroller = ref<HTMLElement>();
const search = ref<HTMLInputElement>();

const tree = computed(() => new LedgerTree(store.scene));
const rows = computed(() =>
  tree.value.rows({ expanded: expanded.value, filter: filter.value, sort: sort.value, descending: descending.value }),
);
const rowAt = (index: number) => rows.value.at(index) as Row;
const hueOf = (row: number): string | undefined => props.hues[props.bands.of[row]];
const keyOf = (row: number) => store.scene.nodes.key(row);

const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => ROW,
    overscan: 12,
  })),
);

// A new model opens its first two levels, and whatever is the only row of its level.
watch(
  () => store.scene.sources.map((source) => source.id).join(),
  () => {
    const next = new Set(expanded.value);
    const open = (parent: number | null) => {
      const level = tree.value.facts.childrenOf(parent);
      if (level.length > MOST_OPENED) return;
      for (const row of level) if (parent === null || level.length === 1) next.add(keyOf(row));
      if (level.length === 1) open(level[0]);
    };
    open(null);
    expanded.value = next;
  },
  { immediate: true },
);

const columns = computed(() => columnsOf(props.station));

function sortBy(column: Column): void {
  const next = sortAfter(column, { sort: sort.value, descending: descending.value });
  sort.value = next.sort;
  descending.value = next.descending;
}

const isSelected = (row: Row) => selection.deep.size > 0 && row.rows.every((one) => selection.deep.has(one));
const isHidden = (row: Row) => selection.hidden.size > 0 && row.rows.every((one) => selection.hidden.has(one));

function toggle(row: Row, open = !row.expanded): void {
  if (!row.expandable) return;
  const next = new Set(expanded.value);
  if (open) next.add(row.key);
  else next.delete(row.key);
  expanded.value = next;
}

const dragging = useLedgerDrag({
  tree: () => tree.value,
  rowAt: (index) => rows.value.at(index),
  scroller: () => scroller.value,
  take: (index) => {
    if (!isSelected(rowAt(index))) pick(index, 'set');
  },
  open: ({ key }) => (expanded.value = new Set([...expanded.value, key])),
});
const { drag } = dragging;

function click(index: number, event: MouseEvent): void {
  if (dragging.hasJustEnded()) return;
  pick(index, event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'toggle' : 'set');
}

function pick(index: number, how: 'set' | 'toggle' | 'range'): void {
  cursor.value = index;
  if (how === 'range') {
    const [from, to] = [Math.min(anchor.value, index), Math.max(anchor.value, index)];
    selection.pick(rows.value.members(from, to).map(keyOf));
    return;
  }
  anchor.value = index;
  selection.pick(rows.value.members(index).map(keyOf), how);
}

function key(event: KeyboardEvent): void {
  if (renaming.value) return;
  const row = rows.value.at(cursor.value);
  const move = (to: number) => {
    const index = Math.max(0, Math.min(rows.value.length - 1, to));
    pick(index, event.shiftKey ? 'range' : 'set');
    virtual.value.scrollToIndex(index);
    event.preventDefault();
  };
  const page = Math.floor((scroller.value?.clientHeight ?? 260) / ROW) - 1;
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') pickAll(event);
  else if (event.key === 'ArrowDown') move(cursor.value + 1);
  else if (event.key === 'ArrowUp') move(cursor.value - 1);
  else if (event.key === 'PageDown') move(cursor.value + page);
  else if (event.key === 'PageUp') move(cursor.value - page);
  else if (event.key === 'Home') move(0);
  else if (event.key === 'End') move(rows.value.length - 1);
  else if (!row) return;
  else if (event.key === 'ArrowRight') {
    toggle(row, true);
    event.preventDefault();
  } else if (event.key === 'ArrowLeft') {
    event.preventDefault();
    if (row.expanded) toggle(row, false);
    else {
      let parent = cursor.value - 1;
      while (parent >= 0 && rows.value.depthAt(parent) >= row.depth) parent--;
      if (parent >= 0) move(parent);
    }
  } else if (event.key === ' ') {
    pick(cursor.value, 'toggle');
    event.preventDefault();
  } else if (event.key === 'Delete') {
    leaveOutSelection();
    event.preventDefault();
  } else if (event.key === 'Enter') selection.frame();
  else if (event.key === 'F2') startRename(row);
}

/** All that is shown: of a search what it found, which are the rows that nothing is shown below of. */
function pickAll(event: KeyboardEvent): void {
  event.preventDefault();
  const members: number[] = [];
  for (let index = 0; index < rows.value.length; index++) {
    const isTop = rows.value.depthAt(index) === 0;
    const isLeaf = index + 1 === rows.value.length || rows.value.depthAt(index + 1) <= rows.value.depthAt(index);
    if (filter.value.trim() ? isLeaf : isTop) members.push(...rows.value.members(index));
  }
  selection.pick(members.map(keyOf));
}

/** The menu of a row is about what is selected, and what is not selected yet is so then. From the keyboard it is that of the cursor. */
function openMenu(event: MouseEvent): void {
  const line = (event.target as Element).closest('[id^=row-]');
  const index = line ? Number(line.id.slice(4)) : cursor.value;
  const row = rows.value.at(index);
  if (row && !isSelected(row)) pick(index, 'set');
  emit('menu', event);
}

function startRename(row: Row): void {
  renaming.value = row.key;
}

/** Renames in place what is selected, where it is one row in sight. */
function renameSelected(): void {
  const [first] = selection.ids;
  const index = first === undefined ? -1 : rows.value.indexOf(first);
  if (index < 0) return;
  cursor.value = anchor.value = index;
  virtual.value.scrollToIndex(index);
  startRename(rowAt(index));
}

function endRename(row: Row, typed: string, keep: boolean): void {
  if (renaming.value !== row.key) return;
  renaming.value = undefined;
  const name = typed.trim();
  scroller.value?.focus();
  if (!keep || !name || name === row.node.name) return;
  changeSteps.add('rename', { by: 'picked', keys: [...row.rows].map(keyOf) }, { name, of: 'picked' });
}

/** Something was picked elsewhere: its row is opened and brought into sight. */
watch(
  () => selection.keys,
  async (keys) => {
    const [key] = keys;
    const { facts } = tree.value;
    const first = key === undefined ? undefined : facts.rowOf(key);
    const shown = first === undefined ? -1 : rows.value.indexOf(first);
    if (first === undefined || shown >= 0) {
      const index = shown;
      if (index >= 0 && !scroller.value?.contains(document.activeElement)) {
        cursor.value = anchor.value = index;
        virtual.value.scrollToIndex(index);
      }
      return;
    }
    const { parent } = store.scene.nodes.columns;
    const next = new Set(expanded.value);
    for (let row = parent[first]; row >= 0; row = parent[row]) {
      next.add(keyOf(row));
      // It may itself stand in a gathered row.
      const siblings = facts.childrenOf(parent[row] < 0 ? null : parent[row]);
      if (siblings.length <= MOST_OPENED) for (const sibling of siblings) next.add(`${keyOf(sibling)}×`);
    }
    expanded.value = next;
    await nextTick();
    const index = rows.value.indexOf(first);
    if (index >= 0) {
      cursor.value = anchor.value = index;
      virtual.value.scrollToIndex(index);
    }
  },
);

defineExpose({ focusSearch: () => search.value?.select(), renameSelected });
</script>

<template>
  <section class="ledger" :style="{ '--columns': gridOf(columns.map(({ id }) => id)) }" aria-label="Ledger">
    <div class="find">
      <input
        ref="search"
        v-model="filter"
        type="search"
        placeholder="Find name, layer, material…"
        aria-label="Find in the ledger"
        @keydown.esc="filter = ''"
      />
      <kbd>/</kbd>
      <button
        class="plain out"
        :disabled="selection.nodes.length === 0"
        title="Leave out what is selected (Del)"
        @click="leaveOutSelection"
      >
        Leave out
      </button>
    </div>
    <div
      ref="scroller"
      class="scroll"
      role="treegrid"
      tabindex="0"
      aria-label="Parts"
      aria-multiselectable="true"
      :aria-rowcount="rows.length"
      :aria-activedescendant="cursor < rows.length ? `row-${cursor}` : undefined"
      @keydown="key"
      @contextmenu.prevent="openMenu"
    >
      <LedgerHead :columns="columns" :sort="sort" :descending="descending" @sort="sortBy" />
      <div class="rows" :style="{ height: `${virtual.getTotalSize()}px` }">
        <div
          v-for="item in virtual.getVirtualItems()"
          :id="`row-${item.index}`"
          :key="rows.at(item.index)?.key ?? item.index"
          role="row"
          class="line"
          :class="{
            selected: item.index < rows.length && isSelected(rowAt(item.index)),
            hidden: isHidden(rowAt(item.index)),
            cursor: item.index === cursor,
            target: drag?.target === item.index && drag.isAllowed,
          }"
          :style="{ transform: `translateY(${item.start}px)` }"
          :aria-level="rowAt(item.index).depth + 1"
          :aria-expanded="rowAt(item.index).expandable ? rowAt(item.index).expanded : undefined"
          :aria-selected="isSelected(rowAt(item.index))"
          @pointerdown="dragging.begin($event, item.index)"
          @click="click(item.index, $event)"
          @dblclick="startRename(rowAt(item.index))"
        >
          <LedgerLine
            :row="rowAt(item.index)"
            :columns="columns"
            :tree="tree"
            :hue="hueOf(rowAt(item.index).node.id)"
            :renaming="renaming === rowAt(item.index).key"
            @toggle="toggle(rowAt(item.index))"
            @rename="(name, keep) => endRename(rowAt(item.index), name, keep)"
          />
        </div>
      </div>
      <p
        v-if="drag"
        class="dragged"
        :class="{ bad: !drag.isAllowed }"
        role="status"
        :style="{ '--x': `${drag.x}px`, '--y': `${drag.y}px` }"
      >
        {{ drag.words }}
      </p>
      <p v-if="rows.length === 0" class="empty quiet">
        <template v-if="filter">Nothing is called “{{ filter }}”. Esc clears the search.</template>
        <template v-else-if="store.sources.length">The parts appear here as soon as the file is read.</template>
        <template v-else>No parts yet. Drop models anywhere on the bench.</template>
      </p>
    </div>
  </section>
</template>

<style scoped>
.ledger {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-right: 1px solid var(--rule);
}
.find {
  display: flex;
  align-items: center;
  padding: 0 12px;
  height: 34px;
  border-bottom: 1px solid var(--rule);
}
.find input {
  flex: 1;
  min-width: 0;
  border: 0;
  background: none;
  padding: 4px 0;
}
.out {
  margin-left: 10px;
  white-space: nowrap;
}
.find input:focus-visible {
  outline: none;
}
.find:has(input:focus-visible) {
  box-shadow: inset 0 0 0 2px var(--iris);
}
.scroll {
  flex: 1;
  overflow: auto;
  min-height: 0;
  position: relative;
}
.scroll:focus-visible {
  outline: none;
}
.scroll:focus-visible :deep(.head) {
  box-shadow: inset 0 2px var(--iris);
}
.line {
  display: grid;
  grid-template-columns: var(--columns);
}
.rows {
  position: relative;
}
.line {
  position: absolute;
  inset: 0 0 auto 0;
  height: 26px;
  align-items: center;
  border-bottom: 1px solid var(--rule-soft);
  cursor: default;
  user-select: none;
}
.line:hover {
  background: var(--raised);
}
.line.selected {
  background: var(--iris-wash);
  box-shadow: inset 2px 0 var(--iris);
}
.scroll:focus-visible .line.cursor {
  outline: 1px solid var(--iris);
  outline-offset: -1px;
}
.line.target {
  outline: 1.5px solid var(--iris);
  outline-offset: -1px;
}
.dragged {
  position: fixed;
  z-index: 5;
  left: calc(var(--x) + 14px);
  top: calc(var(--y) + 6px);
  padding: 1px 6px;
  font-size: 12px;
  white-space: nowrap;
  background: var(--raised);
  border-left: 2px solid var(--iris);
  pointer-events: none;
}
.dragged.bad {
  border-color: var(--bad, currentcolor);
}
.line.hidden > * {
  opacity: 0.45;
}
.empty {
  padding: 16px 12px;
}
</style>
