<script setup lang="ts" generic="T">
/** The button with which what a step concerns is taken by hand in the view, and what to do there; why not, where it cannot be. */
import { computed, onBeforeUnmount, watch } from 'vue';
import { SceneEditor } from '@noble-prism/core/scene/editor';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { Standing } from '@noble-prism/core/scene/standing';
import { withDescendants } from '@noble-prism/core/scene/tree';
import { select } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/selector';
import { useDragging } from '../stores/dragging.ts';
import type { Hand } from '../stores/dragging.ts';
import { useJob } from '../stores/job.ts';

const props = defineProps<{
  id: string;
  selector: Selector | undefined;
  /** How rows are taken, or why they cannot be. @param rows that move, none below another */
  hand: (edit: SceneEditor, rows: readonly number[]) => Hand<T> | string;
}>();
const emit = defineEmits<{ done: [value: T] }>();
const store = useJob();
const dragging = useDragging();

const isDragging = computed(() => dragging.wanted?.id === props.id);
/** What would be taken, and how; what is locked stays. */
const taken = computed(() => {
  const { scene } = store;
  const edit = new SceneEditor(scene);
  const rows = props.selector ? new Standing(edit, select(scene, props.selector, true)).rows : [];
  return { rows: Rows.of(scene.nodes.rows, rows), hand: rows.length > 0 ? props.hand(edit, rows) : '' };
});
const trouble = computed(() => (typeof taken.value.hand === 'string' ? taken.value.hand : ''));

function want(): void {
  const { rows, hand } = taken.value;
  if (typeof hand === 'string' || rows.size === 0) return dragging.want();
  const done = (value: T) => emit('done', value);
  dragging.want({ id: props.id, rows: withDescendants(store.scene, rows), hand, done });
}
// Another scene, other rows or another point: what is taken next is that.
watch(taken, () => isDragging.value && want());
onBeforeUnmount(() => {
  if (isDragging.value) dragging.want();
});
</script>

<template>
  <div class="hand">
    <button
      class="plain link"
      :aria-pressed="isDragging"
      :aria-describedby="trouble ? `${id}-trouble` : undefined"
      :disabled="taken.rows.size === 0 || trouble !== ''"
      @click="isDragging ? dragging.want() : want()"
    >
      {{ isDragging ? 'Stop dragging' : 'Drag in the view' }}
    </button>
    <p v-if="trouble && taken.rows.size > 0" :id="`${id}-trouble`" class="quiet">{{ trouble }}</p>
    <p v-else-if="isDragging && typeof taken.hand !== 'string'" class="quiet">{{ taken.hand.hint }}</p>
  </div>
</template>

<style scoped>
.hand {
  padding: 6px 2px 2px;
  font-size: 12px;
}
</style>
