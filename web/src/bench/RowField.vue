<script setup lang="ts">
/** One row of the tree as a value: its name, and a button by which the next click in ledger or view chooses it. */
import { computed, onBeforeUnmount } from 'vue';
import { factsOf } from '@noble-prism/core/scene/facts';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';

const props = defineProps<{
  id: string;
  /** What it is, for those who choose it. */
  label: string;
  modelValue: string | undefined;
  /** What is meant without one, where that is allowed. */
  optional?: string | undefined;
}>();
const emit = defineEmits<{ 'update:modelValue': [string | undefined] }>();
const store = useJob();
const selection = useSelection();

/** An empty key is none yet, as new steps have it. */
const key = computed(() => props.modelValue || undefined);
const row = computed(() => (key.value === undefined ? undefined : factsOf(store.scene).rowOf(key.value)));
const words = computed(() => {
  if (key.value === undefined) return props.optional ?? 'none yet';
  return row.value === undefined ? 'no longer there' : store.scene.nodes.text('name', row.value);
});
const isAsking = computed(() => selection.wanted?.id === props.id);

function ask(): void {
  if (isAsking.value) return selection.want();
  selection.want({
    id: props.id,
    words: `Click what is meant by “${props.label}”, in the ledger or in the view`,
    take: (key) => emit('update:modelValue', key),
  });
}
onBeforeUnmount(() => {
  if (isAsking.value) selection.want();
});
</script>

<template>
  <div class="row-field">
    <button
      :id="id"
      class="plain value"
      :aria-pressed="isAsking"
      :class="{ bad: key !== undefined && row === undefined, quiet: key === undefined }"
      :title="isAsking ? 'Click a row, or here to leave it as it is' : 'Choose by a click in the ledger or in the view'"
      @click="ask"
    >
      {{ isAsking ? 'click a row …' : words }}
    </button>
    <button
      v-if="optional && key !== undefined"
      class="plain"
      :aria-label="`${label}: ${optional}`"
      :title="optional"
      @click="emit('update:modelValue', undefined)"
    >
      ×
    </button>
  </div>
</template>

<style scoped>
.row-field {
  display: flex;
  align-items: baseline;
  border-bottom: 1px solid var(--rule);
}
.value {
  flex: 1;
  min-width: 0;
  padding: 3px 2px;
  overflow: hidden;
  text-align: left;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.value[aria-pressed='true'] {
  color: var(--iris);
}
</style>
