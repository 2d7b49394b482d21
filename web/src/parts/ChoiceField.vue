<script setup lang="ts" generic="T extends string">
/** One choice of several, with a search where they are many. */
import Select from 'primevue/select';
import { computed } from 'vue';

const props = defineProps<{
  id?: string;
  /** For those that stand in no row with a label. */
  label?: string;
  /** Undefined may be one of the choices. */
  modelValue: T | undefined;
  choices: readonly { value: T | undefined; label: string; note?: string; disabled?: boolean }[];
  placeholder?: string;
  /** What is said where there is nothing to choose. */
  empty?: string;
}>();
const emit = defineEmits<{ 'update:modelValue': [T | undefined] }>();

/** From so many on, one looks by typing. */
const MANY = 12;
/** Stands for undefined, which a list cannot hold; no choice is called so. */
const NONE = '\u0000';
const options = computed(() => props.choices.map((choice) => ({ ...choice, value: choice.value ?? NONE })));
const value = computed(() => {
  if (props.modelValue !== undefined) return props.modelValue;
  return props.choices.some((choice) => choice.value === undefined) ? NONE : null;
});
</script>

<template>
  <Select
    :label-id="id"
    :aria-labelledby="id && !label ? `${id}-label ${id}` : undefined"
    :aria-label="label"
    :model-value="value"
    :options="options"
    option-value="value"
    option-label="label"
    option-disabled="disabled"
    :filter="choices.length > MANY"
    filter-placeholder="Find"
    auto-filter-focus
    :placeholder="placeholder"
    :empty-message="empty"
    scroll-height="320px"
    @update:model-value="emit('update:modelValue', $event === NONE ? undefined : ($event as T))"
  >
    <template #option="{ option }"
      ><span
        >{{ option.label }}<span v-if="option.note" class="quiet"> {{ option.note }}</span></span
      ></template
    >
  </Select>
</template>
