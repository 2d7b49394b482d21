<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { computed } from 'vue';
import { useActions } from './actions.ts';
import type { BenchAction } from './benchAction.ts';

const props = defineProps<{ visible: boolean }>();
const emit = defineEmits<{ 'update:visible': [boolean] }>();
const actions = useActions();

/** Keys that belong to where the keyboard is, not to the whole bench. */
const PLACES: readonly { title: string; keys: readonly [string, string][] }[] = [
  {
    title: 'In the ledger',
    keys: [
      ['↑ ↓', 'Row by row, with Shift a range'],
      ['← →', 'Close and open'],
      ['Space', 'Add to the selection or take away'],
      ['Enter', 'Frame'],
      ['Menu', 'What can be done with the row'],
    ],
  },
  { title: 'In the view', keys: [['Arrows + −', 'Turn and zoom']] },
  {
    title: 'On a step',
    keys: [
      ['Alt ← →', 'Move it'],
      ['Del', 'Delete it'],
    ],
  },
];
const GROUPS: readonly BenchAction['group'][] = ['Stations', 'Selection', 'View', 'Steps', 'Bench'];

const groups = computed(() => {
  if (!props.visible) return [];
  const all = actions();
  const ofGroup = (group: BenchAction['group']) =>
    all.flatMap((action): [string, string][] =>
      action.group === group && action.keys ? [[action.keys, action.title]] : [],
    );
  return [...GROUPS.map((title) => ({ title: title as string, keys: ofGroup(title) })), ...PLACES];
});
</script>

<template>
  <Dialog
    :visible="visible"
    modal
    header="Keyboard"
    dismissable-mask
    :style="{ width: '720px', maxWidth: '96vw' }"
    @update:visible="emit('update:visible', $event)"
  >
    <div class="sheet">
      <section v-for="group in groups" :key="group.title">
        <p class="caps">{{ group.title }}</p>
        <dl>
          <template v-for="[keys, what] in group.keys" :key="keys">
            <dt>
              <kbd>{{ keys }}</kbd>
            </dt>
            <dd>{{ what }}</dd>
          </template>
        </dl>
      </section>
    </div>
  </Dialog>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: 1fr 1fr;
  align-items: start;
  gap: 18px 28px;
}
dl {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 4px 8px;
  margin-top: 4px;
}
</style>
