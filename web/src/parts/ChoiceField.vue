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
  /** A colour is shown before the label; empty where others have one. */
  choices: readonly {
    value: T | undefined;
    label: string;
    note?: string;
    colour?: string;
    disabled?: boolean;
    /** Other words that it is looked for by. */
    also?: string;
  }[];
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
const coloured = computed(() => props.choices.some(({ colour }) => colour));
const optionOf = (chosen: unknown) => options.value.find((option) => option.value === chosen);
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
    :filter-fields="['label', 'note', 'also']"
    filter-placeholder="Find"
    auto-filter-focus
    :placeholder="placeholder"
    :empty-message="empty"
    scroll-height="320px"
    @update:model-value="emit('update:modelValue', $event === NONE ? undefined : ($event as T))"
  >
    <template v-if="coloured" #value="{ value: chosen, placeholder: none }">
      <span class="coloured" :class="{ quiet: modelValue === undefined }"
        ><slot name="mark" :value="modelValue"
          ><i class="material-dot" :style="{ background: optionOf(chosen)?.colour || 'transparent' }" /></slot
        ><span>{{ optionOf(chosen)?.label ?? none }}</span></span
      >
    </template>
    <template #option="{ option }"
      ><span class="coloured"
        ><slot v-if="coloured" name="mark" :value="option.value"
          ><i class="material-dot" :style="{ background: option.colour || 'transparent' }" /></slot
        >{{ option.label }}<span v-if="option.note" class="quiet">&nbsp;{{ option.note }}</span></span
      ></template
    >
  </Select>
</template>

<style scoped>
.coloured {
  display: inline-flex;
  align-items: center;
  max-width: 100%;
}
.coloured > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
