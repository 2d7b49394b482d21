<script setup lang="ts" generic="T extends string">
/** One choice for a source: as it was received, or something else that somebody knows better. */
import Select from 'primevue/select';
import { computed } from 'vue';

const props = defineProps<{
  label: string;
  /** What was chosen; nothing where it is taken as received. */
  chosen: T | undefined;
  /** What it is as received. */
  received: string;
  others: readonly { value: T; label: string }[];
}>();
const emit = defineEmits<{ choose: [value: T | undefined] }>();

/** No choice is called so. */
const AS_RECEIVED = ' ';
const options = computed(() => [{ value: AS_RECEIVED, label: props.received }, ...props.others]);
</script>

<template>
  <Select
    :aria-label="label"
    :model-value="chosen ?? AS_RECEIVED"
    :options="options"
    option-value="value"
    option-label="label"
    @update:model-value="emit('choose', $event === AS_RECEIVED ? undefined : ($event as T))"
  />
</template>
