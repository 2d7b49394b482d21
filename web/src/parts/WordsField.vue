<script setup lang="ts">
/** Some words out of those that there are, found by typing. Words that are no longer there stay chosen, and are said. */
import MultiSelect from 'primevue/multiselect';
import { computed } from 'vue';

const props = defineProps<{
  id: string;
  label: string;
  modelValue: readonly string[];
  offers: readonly { value: string; label: string }[];
}>();
const emit = defineEmits<{ 'update:modelValue': [string[]] }>();

const options = computed(() => {
  const known = new Set(props.offers.map(({ value }) => value));
  const lost = props.modelValue.filter((value) => !known.has(value));
  return [...lost.map((value) => ({ value, label: `${value} (no longer there)` })), ...props.offers];
});
</script>

<template>
  <MultiSelect
    :label-id="id"
    :aria-label="label"
    :model-value="[...modelValue]"
    :options="options"
    option-value="value"
    option-label="label"
    :filter="options.length > 8"
    filter-placeholder="Find"
    auto-filter-focus
    :show-toggle-all="false"
    :max-selected-labels="2"
    :selected-items-label="`${modelValue.length} chosen`"
    :virtual-scroller-options="options.length > 200 ? { itemSize: 30 } : undefined"
    :placeholder="`choose ${label.toLowerCase()}`"
    empty-message="There are none."
    @update:model-value="emit('update:modelValue', $event as string[])"
  />
</template>
