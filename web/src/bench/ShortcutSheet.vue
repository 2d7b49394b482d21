<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { STATIONS } from './stations.ts';

defineProps<{ visible: boolean }>();
const emit = defineEmits<{ 'update:visible': [boolean] }>();

const groups: { title: string; keys: [string, string][] }[] = [
  { title: 'Stations', keys: STATIONS.map((station) => [station.key, station.title]) },
  {
    title: 'View',
    keys: [
      ['F', 'Frame the selection, or everything'],
      ['I', 'Isolate the selection'],
      ['H', 'Hide the selection'],
      ['A', 'Show all'],
      ['E', 'Feature edges on or off'],
      ['L', 'Next way of looking'],
      ['D', 'Measure a distance'],
      ['Arrows + −', 'Turn and zoom, in the view'],
      ['Esc', 'Select nothing'],
    ],
  },
  {
    title: 'Ledger',
    keys: [
      ['/', 'Find'],
      ['↑ ↓', 'Row by row, with Shift a range'],
      ['← →', 'Close and open'],
      ['Space', 'Add to the selection or take away'],
      ['Enter', 'Frame'],
      ['F2', 'Rename'],
      ['Del', 'Leave out what is selected'],
    ],
  },
  {
    title: 'Steps',
    keys: [
      ['Ctrl Z', 'Undo'],
      ['Ctrl Shift Z', 'Redo'],
      ['Alt ← →', 'Move the step in focus'],
      ['Del', 'Delete the step in focus'],
      ['?', 'This sheet'],
    ],
  },
];
</script>

<template>
  <Dialog
    :visible="visible"
    modal
    header="Keyboard"
    dismissable-mask
    :style="{ width: '640px' }"
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
  gap: 18px 28px;
}
dl {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 4px 8px;
  margin-top: 4px;
}
</style>
