<script setup lang="ts">
/** Finds what can be done by words: arrows choose, Enter does it. */
import Dialog from 'primevue/dialog';
import { computed, nextTick, ref, watch } from 'vue';
import { useActions } from './actions.ts';
import { findActions } from './benchAction.ts';
import type { BenchAction } from './benchAction.ts';
import { cannotWords } from './cannot.ts';

const props = defineProps<{ visible: boolean }>();
const emit = defineEmits<{ 'update:visible': [boolean] }>();
const actions = useActions();
const sought = ref('');
const at = ref(0);
const list = ref<HTMLElement>();

const found = computed(() => (props.visible ? findActions(actions(), sought.value).filter(isUseful) : []));
const cannot = computed(() => cannotWords(sought.value));
/** The finder does not find itself, nor what has no sense just now. */
const isUseful = ({ id, enabled }: BenchAction) => id !== 'finder' && enabled !== false;

watch(
  () => props.visible,
  () => {
    sought.value = '';
    at.value = 0;
  },
);
watch(sought, () => (at.value = 0));

async function key(event: KeyboardEvent): Promise<void> {
  if (event.key === 'ArrowDown') at.value = Math.min(found.value.length - 1, at.value + 1);
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1);
  else if (event.key === 'Enter') run(found.value[at.value]);
  else return;
  event.preventDefault();
  await nextTick();
  list.value?.children[at.value]?.scrollIntoView({ block: 'nearest' });
}

function run(action: BenchAction | undefined): void {
  if (!action) return;
  emit('update:visible', false);
  action.run();
}
</script>

<template>
  <Dialog
    :visible="visible"
    modal
    dismissable-mask
    header="Find an action"
    position="top"
    :style="{ width: '560px' }"
    @update:visible="emit('update:visible', $event)"
  >
    <span class="line-field">
      <input
        v-model="sought"
        autofocus
        type="search"
        role="combobox"
        aria-label="What do you want to do?"
        aria-controls="actions-found"
        aria-expanded="true"
        :aria-activedescendant="found[at] ? `action-${found[at].id}` : undefined"
        placeholder="What do you want to do?"
        @keydown="key"
      />
    </span>
    <p v-if="cannot" class="note" role="status">{{ cannot }}</p>
    <ul id="actions-found" ref="list" role="listbox" aria-label="Actions">
      <li
        v-for="(action, i) in found"
        :id="`action-${action.id}`"
        :key="action.id"
        role="option"
        :aria-selected="i === at"
        @pointermove="at = i"
        @click="run(action)"
      >
        <span class="title">{{ action.title }}</span>
        <span class="quiet clip">{{ action.purpose ?? action.group }}</span>
        <kbd v-if="action.keys">{{ action.keys }}</kbd>
      </li>
    </ul>
    <p v-if="!cannot && !found.length" class="quiet none">
      Nothing is called so. Try another word: reduce, name, colour.
    </p>
  </Dialog>
</template>

<style scoped>
.line-field {
  margin: 2px 2px 0;
}
ul {
  height: 340px;
  margin-top: 8px;
  overflow-y: auto;
  scrollbar-width: thin;
}
li {
  display: grid;
  grid-template-columns: minmax(150px, auto) minmax(0, 1fr) auto;
  align-items: baseline;
  gap: 12px;
  min-height: 28px;
  padding: 4px 6px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--iris-wash);
}
.title {
  font-weight: 600;
}
.note {
  margin-top: 8px;
}
.none {
  margin-top: -330px;
  min-height: 330px;
}
</style>
