<script setup lang="ts" generic="T extends string">
/** One choice for a source: as it was received, or something else that somebody knows better. */
import { computed } from 'vue';
import ChoiceField from '../../parts/ChoiceField.vue';

const props = defineProps<{
  label: string;
  /** What was chosen; nothing where it is taken as received. */
  chosen: T | undefined;
  /** What it is as received. */
  received: string;
  others: readonly { value: T; label: string }[];
}>();
const emit = defineEmits<{ choose: [value: T | undefined] }>();

const choices = computed(() => [{ value: undefined, label: props.received }, ...props.others]);
</script>

<template>
  <ChoiceField :label="label" :model-value="chosen" :choices="choices" @update:model-value="emit('choose', $event)" />
</template>
