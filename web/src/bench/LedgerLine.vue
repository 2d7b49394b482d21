<script setup lang="ts">
/** One row of the ledger: name with its place in the tree, and the cells of the station's columns. */
import { computed, nextTick, ref, watch } from 'vue';
import { meanColour } from '@noble-prism/core/finish/library/given';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { LOCKED, POINT } from '@noble-prism/core/scene/nodes';
import { useJob } from '../stores/job.ts';
import { cellText, materialsOf } from './ledgerColumns.ts';
import type { Column } from './ledgerColumns.ts';
import type { LedgerTree, Row } from './rows.ts';

const props = defineProps<{
  row: Row;
  columns: readonly Column[];
  tree: LedgerTree;
  /** Colour of the part in the spectrum, where it stands there by itself. */
  hue: string | undefined;
  renaming: boolean;
}>();
const emit = defineEmits<{ toggle: []; rename: [name: string, keep: boolean] }>();
const store = useJob();
const name = ref('');
const field = ref<HTMLInputElement>();

const node = computed(() => props.row.node);
const isPart = computed(() => node.value.kind === 'part');
const isLocked = computed(() => (store.scene.nodes.columns.flags[node.value.id] & LOCKED) !== 0);
const isPoint = computed(() => (store.scene.nodes.columns.flags[node.value.id] & POINT) !== 0);
const chips = computed(() => (isPart.value ? materialsOf(store.scene, node.value).slice(0, 3) : []));
const fullName = computed(() =>
  node.value.occurrence ? `${node.value.name} (${node.value.occurrence})` : node.value.name,
);

watch(
  () => props.renaming,
  async (renaming) => {
    if (!renaming) return;
    name.value = node.value.name;
    await nextTick();
    field.value?.select();
  },
  { immediate: true },
);
</script>

<template>
  <div role="gridcell" class="name" :style="{ paddingLeft: `${8 + row.depth * 13}px` }">
    <button
      v-if="row.expandable"
      class="fold"
      tabindex="-1"
      :aria-label="row.expanded ? 'Close' : 'Open'"
      @click.stop="emit('toggle')"
      @dblclick.stop
    >
      <svg viewBox="0 0 8 8" aria-hidden="true">
        <path :d="row.expanded ? 'M0.500 2h7L4 7z' : 'M2 0.500v7L7 4z'" fill="currentColor" />
      </svg>
    </button>
    <span v-else class="fold" />
    <span v-if="isPart" class="swatch" :style="{ background: hue ?? 'transparent' }" :class="{ open: !hue }" />
    <svg v-if="isPoint" class="point" viewBox="0 0 12 12" role="img" aria-label="setting-out point">
      <title>Setting-out point</title>
      <path d="M6 0v12M0 6h12" stroke="currentColor" stroke-width="1.200" />
      <circle cx="6" cy="6" r="3" fill="none" stroke="currentColor" stroke-width="1.200" />
    </svg>
    <input
      v-if="renaming"
      ref="field"
      v-model="name"
      class="rename"
      aria-label="New name"
      maxlength="1000"
      @click.stop
      @dblclick.stop
      @keydown.enter.stop="emit('rename', name, true)"
      @keydown.esc.stop="emit('rename', name, false)"
      @blur="emit('rename', name, true)"
    />
    <template v-else>
      <span class="text" :title="fullName">{{ node.name }}</span>
      <span v-if="row.gathered" class="times">×{{ row.rows.length }}</span>
      <span v-else-if="tree.sourceOf(node)" class="text quiet" :title="tree.sourceOf(node)">{{
        tree.sourceOf(node)
      }}</span>
      <svg v-if="isLocked" class="lock" viewBox="0 0 10 12" role="img" aria-label="locked">
        <title>Locked: later steps do not move it</title>
        <path d="M1 5h8v6H1zM3 5V3.200a2 2 0 0 1 4 0V5" fill="none" stroke="currentColor" stroke-width="1.200" />
      </svg>
      <span v-if="node.problem" class="problem" :title="node.problem">!</span>
    </template>
  </div>
  <div
    v-for="column in columns"
    :key="column.id"
    role="gridcell"
    :class="{ number: column.isFigure, layer: column.id === 'layer' }"
  >
    <template v-if="column.id === 'material'">
      <span
        v-for="material in chips"
        :key="material.id"
        class="chip"
        :style="{ background: hexFromLinear(meanColour(material)) }"
      />
    </template>
    <span class="text" :title="cellText(store.scene, tree, row, column)">{{
      cellText(store.scene, tree, row, column)
    }}</span>
  </div>
</template>

<style scoped>
div {
  display: flex;
  align-items: center;
  min-width: 0;
  padding: 0 8px;
  gap: 6px;
}
.number {
  justify-content: flex-end;
}
.layer {
  color: var(--ink-2);
  font-size: 12px;
}
.name {
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
.point {
  flex: none;
  width: 12px;
  height: 12px;
  color: var(--ink-2);
}
.lock {
  flex: none;
  width: 9px;
  color: var(--ink-2);
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
</style>
