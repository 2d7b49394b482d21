<script setup lang="ts">
/** The menu of the right click: what can be done with what is selected. */
import ContextMenu from 'primevue/contextmenu';
import { computed, ref } from 'vue';
import { counted } from '@noble-prism/core/units';
import { useSelection } from '../stores/selection.ts';
import { useActions } from './actions.ts';

const menu = ref<InstanceType<typeof ContextMenu>>();
const actions = useActions();
const selection = useSelection();
/** Counts up with each opening: what can be done is asked for then. */
const opened = ref(0);

interface Entry {
  label?: string;
  keys?: string;
  separator?: boolean;
  disabled?: boolean;
  command?(): void;
}
const entries = computed<Entry[]>(() => {
  if (opened.value === 0) return [];
  const offered = actions().filter(({ onSelection, enabled }) => onSelection && enabled !== false);
  const { nodes } = selection;
  const head = nodes.length === 1 ? nodes[0].name : nodes.length > 0 ? counted(nodes.length, 'row') : 'everything';
  const entry = ({ title, keys, run }: (typeof offered)[number]): Entry => ({ label: title, keys, command: run });
  return [
    { label: head, disabled: true },
    ...offered.filter(({ group }) => group === 'Selection').map(entry),
    { separator: true },
    ...offered.filter(({ group }) => group === 'Prepare').map(entry),
  ];
});

defineExpose({
  show(event: MouseEvent): void {
    opened.value++;
    menu.value?.show(event);
  },
});
</script>

<template>
  <ContextMenu ref="menu" :model="entries" class="selection-menu" aria-label="What can be done">
    <template #item="{ item, props }">
      <a v-bind="props.action" class="entry">
        <span class="clip">{{ item.label }}</span><kbd v-if="item.keys">{{ item.keys }}</kbd>
      </a>
    </template>
  </ContextMenu>
</template>

<style scoped>
.entry {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 16px;
  max-width: 300px;
  min-height: 26px;
  padding: 3px 12px;
}
</style>
