<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import { formatCount, formatNumber } from '@noble-prism/core/units';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { materialOfSlot } from '@noble-prism/core/scene/takeoff';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import type { Band } from '../stores/hues.ts';
import { changeSteps } from './stepEdits.ts';
import { LedgerTree } from './rows.ts';
import type { Row, SortBy } from './rows.ts';

const props = defineProps<{ station: string; bands: Band[] }>();
const store = useJob();
const selection = useSelection();

const ROW = 26;
const expanded = shallowRef<ReadonlySet<string>>(new Set());
const filter = ref('');
const sort = ref<SortBy>('tree');
const descending = ref(false);
const cursor = ref(0);
const anchor = ref(0);
const renaming = ref<string>();
const newName = ref('');
const scroller = ref<HTMLElement>();
const search = ref<HTMLInputElement>();

const tree = computed(() => new LedgerTree(store.scene));
const rows = computed(() =>
  tree.value.rows({ expanded: expanded.value, filter: filter.value, sort: sort.value, descending: descending.value }),
);
const hueOf = computed(() => {
  const out = new Map<number, string>();
  for (const band of props.bands) for (const node of band.nodes) out.set(node, band.hue);
  return out;
});

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
      const level = tree.value.children.get(parent) ?? [];
      for (const node of level) if (parent === null || level.length === 1) next.add(node.key);
      if (level.length === 1) open(level[0].id);
    };
    open(null);
    expanded.value = next;
  },
  { immediate: true },
);

type Column = { id: SortBy | 'material' | 'size'; title: string; unit?: string };
const columns = computed<Column[]>(() => {
  switch (props.station) {
    case 'finishes':
      return [
        { id: 'layer', title: 'Layer' },
        { id: 'material', title: 'Material' },
      ];
    case 'arrange':
      return [
        { id: 'layer', title: 'Layer' },
        { id: 'size', title: 'Longest', unit: 'mm' },
      ];
    case 'lighten':
      return [
        { id: 'triangles', title: 'Triangles' },
        { id: 'deviation', title: 'Off by', unit: 'mm' },
      ];
    default:
      return [
        { id: 'layer', title: 'Layer' },
        { id: 'triangles', title: 'Triangles' },
      ];
  }
});

function cell(row: Row, column: Column): string {
  const { node } = row;
  switch (column.id) {
    case 'layer':
      return node.layer ?? '';
    case 'triangles':
      return row.triangles ? formatCount(row.triangles) : node.problem ? 'failed' : '–';
    case 'deviation': {
      const off = tree.value.deviation(node);
      return off === undefined ? '' : (off * 1000).toFixed(2);
    }
    case 'material':
      return node.kind === 'part'
        ? materialsOf(row)
            .map((m) => m.name)
            .join(', ')
        : '';
    case 'size': {
      const figures = node.mesh ? store.scene.meshes[node.mesh] : undefined;
      if (!figures) return '';
      return formatNumber(
        Math.max(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis])) * 1000,
        4,
      );
    }
    default:
      return '';
  }
}

function materialsOf({ node }: Row) {
  const slots = node.mesh ? store.scene.meshes[node.mesh].slots : node.materials.map(() => 1);
  const ids = new Set(slots.flatMap((count, slot) => (count ? [materialOfSlot(node, slot)] : [])));
  return [...ids].map((id) => store.scene.materials[id] ?? { id, name: 'none', baseColor: [0.4, 0.4, 0.4] as const });
}

const isNumber = (column: Column) => column.id !== 'layer' && column.id !== 'material';

function sortBy(id: Column['id'] | 'name'): void {
  if (id === 'material' || id === 'size') return;
  if (sort.value !== id) {
    sort.value = id;
    descending.value = id === 'triangles' || id === 'deviation';
  } else if (descending.value === (id === 'triangles' || id === 'deviation')) descending.value = !descending.value;
  else sort.value = 'tree';
}

function ariaSort(id: string): 'ascending' | 'descending' | 'none' {
  if (sort.value !== id) return 'none';
  return descending.value ? 'descending' : 'ascending';
}

const isSelected = (row: Row) => row.nodes.every((node) => selection.deep.has(node.id));
const isHidden = (row: Row) => row.nodes.every((node) => selection.hidden.has(node.id));

function toggle(row: Row, open = !row.expanded): void {
  if (!row.expandable) return;
  const next = new Set(expanded.value);
  if (open) next.add(row.key);
  else next.delete(row.key);
  expanded.value = next;
}

function click(index: number, event: MouseEvent): void {
  pick(index, event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'toggle' : 'set');
}

function pick(index: number, how: 'set' | 'toggle' | 'range'): void {
  cursor.value = index;
  if (how === 'range') {
    const [from, to] = [Math.min(anchor.value, index), Math.max(anchor.value, index)];
    selection.pick(rows.value.slice(from, to + 1).flatMap((row) => row.nodes.map((node) => node.key)));
    return;
  }
  anchor.value = index;
  selection.pick(
    rows.value[index].nodes.map((node) => node.key),
    how,
  );
}

function key(event: KeyboardEvent): void {
  if (renaming.value) return;
  const row = rows.value[cursor.value];
  const move = (to: number) => {
    const index = Math.max(0, Math.min(rows.value.length - 1, to));
    pick(index, event.shiftKey ? 'range' : 'set');
    virtual.value.scrollToIndex(index);
    event.preventDefault();
  };
  const page = Math.floor((scroller.value?.clientHeight ?? 260) / ROW) - 1;
  if (event.key === 'ArrowDown') move(cursor.value + 1);
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
      const parent = rows.value.slice(0, cursor.value).findLastIndex((other) => other.depth < row.depth);
      if (parent >= 0) move(parent);
    }
  } else if (event.key === ' ') {
    pick(cursor.value, 'toggle');
    event.preventDefault();
  } else if (event.key === 'Enter') selection.frame();
  else if (event.key === 'F2') startRename(row);
}

async function startRename(row: Row): Promise<void> {
  renaming.value = row.key;
  newName.value = row.node.name;
  await nextTick();
  scroller.value?.querySelector<HTMLInputElement>('.rename')?.select();
}

function endRename(row: Row, keep: boolean): void {
  if (renaming.value !== row.key) return;
  renaming.value = undefined;
  const name = newName.value.trim();
  scroller.value?.focus();
  if (!keep || !name || name === row.node.name) return;
  changeSteps.add('rename', { by: 'picked', keys: row.nodes.map((node) => node.key) }, { name, of: 'picked' });
}

/** Something was picked elsewhere: its row is opened and brought into sight. */
watch(
  () => selection.keys,
  async (keys) => {
    const [first] = keys;
    if (!first || rows.value.some((row) => row.nodes.some((node) => node.key === first))) {
      const index = rows.value.findIndex((row) => row.nodes.some((node) => node.key === first));
      if (index >= 0 && !scroller.value?.contains(document.activeElement)) {
        cursor.value = anchor.value = index;
        virtual.value.scrollToIndex(index);
      }
      return;
    }
    const byId = new Map(store.scene.nodes.map((node) => [node.id, node]));
    const next = new Set(expanded.value);
    let node = store.scene.nodes.find((candidate) => candidate.key === first);
    while (node) {
      const parent = node.parent === null ? undefined : byId.get(node.parent);
      if (parent) next.add(parent.key);
      // The parent may itself stand in a gathered row.
      for (const sibling of tree.value.children.get(parent?.parent ?? null) ?? [])
        if (parent) next.add(`${sibling.key}×`);
      node = parent;
    }
    expanded.value = next;
    await nextTick();
    const index = rows.value.findIndex((row) => row.nodes.some((candidate) => candidate.key === first));
    if (index >= 0) {
      cursor.value = anchor.value = index;
      virtual.value.scrollToIndex(index);
    }
  },
);

defineExpose({ focusSearch: () => search.value?.select() });
</script>

<template>
  <section class="ledger" :class="{ 'with-materials': station === 'finishes' }" aria-label="Ledger">
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
    </div>
    <div
      ref="scroller"
      class="scroll"
      role="treegrid"
      tabindex="0"
      aria-label="Parts"
      aria-multiselectable="true"
      :aria-rowcount="rows.length"
      :aria-activedescendant="rows[cursor] ? `row-${cursor}` : undefined"
      @keydown="key"
    >
      <div class="head" role="row">
        <button role="columnheader" :aria-sort="ariaSort('name')" tabindex="-1" @click="sortBy('name')">Part</button>
        <button
          v-for="column in columns"
          :key="column.id"
          role="columnheader"
          :aria-sort="ariaSort(column.id)"
          tabindex="-1"
          :class="{ number: isNumber(column), still: column.id === 'material' || column.id === 'size' }"
          @click="sortBy(column.id)"
        >
          {{ column.title }}<span v-if="column.unit">, {{ column.unit }}</span>
        </button>
      </div>
      <div class="rows" :style="{ height: `${virtual.getTotalSize()}px` }">
        <div
          v-for="item in virtual.getVirtualItems()"
          :id="`row-${item.index}`"
          :key="rows[item.index]?.key ?? item.index"
          role="row"
          class="line"
          :class="{
            selected: rows[item.index] && isSelected(rows[item.index]),
            hidden: isHidden(rows[item.index]),
            cursor: item.index === cursor,
          }"
          :style="{ transform: `translateY(${item.start}px)` }"
          :aria-level="rows[item.index].depth + 1"
          :aria-expanded="rows[item.index].expandable ? rows[item.index].expanded : undefined"
          :aria-selected="isSelected(rows[item.index])"
          @click="click(item.index, $event)"
          @dblclick="startRename(rows[item.index])"
        >
          <div role="gridcell" class="name" :style="{ paddingLeft: `${8 + rows[item.index].depth * 13}px` }">
            <button
              v-if="rows[item.index].expandable"
              class="fold"
              tabindex="-1"
              :aria-label="rows[item.index].expanded ? 'Close' : 'Open'"
              @click.stop="toggle(rows[item.index])"
              @dblclick.stop
            >
              <svg viewBox="0 0 8 8" aria-hidden="true">
                <path :d="rows[item.index].expanded ? 'M0.500 2h7L4 7z' : 'M2 0.500v7L7 4z'" fill="currentColor" />
              </svg>
            </button>
            <span v-else class="fold" />
            <span
              v-if="rows[item.index].node.kind === 'part'"
              class="swatch"
              :style="{ background: hueOf.get(rows[item.index].node.id) ?? 'transparent' }"
              :class="{ open: !hueOf.has(rows[item.index].node.id) }"
            />
            <input
              v-if="renaming === rows[item.index].key"
              v-model="newName"
              class="rename"
              aria-label="New name"
              maxlength="1000"
              @click.stop
              @dblclick.stop
              @keydown.enter.stop="endRename(rows[item.index], true)"
              @keydown.esc.stop="endRename(rows[item.index], false)"
              @blur="endRename(rows[item.index], true)"
            />
            <template v-else>
              <span
                class="text"
                :title="
                  rows[item.index].node.occurrence
                    ? `${rows[item.index].node.name} (${rows[item.index].node.occurrence})`
                    : rows[item.index].node.name
                "
                >{{ rows[item.index].node.name }}</span
              >
              <span v-if="rows[item.index].gathered" class="times">×{{ rows[item.index].nodes.length }}</span>
              <span v-if="rows[item.index].node.problem" class="problem" :title="rows[item.index].node.problem">!</span>
            </template>
          </div>
          <div
            v-for="column in columns"
            :key="column.id"
            role="gridcell"
            :class="{ number: isNumber(column), layer: column.id === 'layer' }"
          >
            <template v-if="column.id === 'material'">
              <span
                v-for="material in rows[item.index].node.kind === 'part'
                  ? materialsOf(rows[item.index]).slice(0, 3)
                  : []"
                :key="material.id"
                class="chip"
                :style="{ background: hexFromLinear(material.baseColor) }"
              />
            </template>
            <span class="text" :title="cell(rows[item.index], column)">{{ cell(rows[item.index], column) }}</span>
          </div>
        </div>
      </div>
      <p v-if="rows.length === 0" class="empty quiet">
        <template v-if="filter">Nothing is called “{{ filter }}”. Esc clears the search.</template>
        <template v-else-if="store.sources.length">The parts appear here as soon as the file is read.</template>
        <template v-else>No parts yet. Drop a STEP file anywhere on the bench.</template>
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
.scroll:focus-visible .head {
  box-shadow: inset 0 2px var(--iris);
}
.head,
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px 96px;
}
.ledger.with-materials .head,
.ledger.with-materials .line {
  grid-template-columns: minmax(0, 1fr) 84px 128px;
}
.head {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
  height: 26px;
}
.head button {
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
.head button[aria-sort='ascending']::after {
  content: ' ↑';
}
.head button[aria-sort='descending']::after {
  content: ' ↓';
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
.line.hidden > * {
  opacity: 0.45;
}
.line > div {
  display: flex;
  align-items: center;
  min-width: 0;
  padding: 0 8px;
  gap: 6px;
}
.line > .number {
  justify-content: flex-end;
}
.line .layer {
  color: var(--ink-2);
  font-size: 12px;
}
.line .name {
  padding-right: 0;
}
.text {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.fold {
  width: 12px;
  height: 18px;
  flex: none;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink-2);
  display: grid;
  place-content: center;
  cursor: pointer;
}
.fold svg {
  width: 8px;
}
.swatch {
  width: 8px;
  height: 8px;
  flex: none;
}
.swatch.open {
  border: 1px solid var(--ink-2);
}
.chip {
  width: 10px;
  height: 10px;
  flex: none;
  border-radius: 50%;
  border: 1px solid var(--rule);
}
.times {
  color: var(--ink-2);
  flex: none;
}
.problem {
  color: var(--ochre);
  font-weight: 700;
}
.rename {
  flex: 1;
  min-width: 0;
  border: 0;
  border-bottom: 1px solid var(--iris);
  background: var(--raised);
  padding: 0 2px;
}
.empty {
  padding: 16px 12px;
}
</style>
