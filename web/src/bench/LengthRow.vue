<script setup lang="ts">
/** One line of a form: a name, and a length, share or angle with its unit. */
import LengthField from './LengthField.vue';

defineProps<{
  id: string;
  label: string;
  hint?: string;
  unit: string;
  min?: number;
  max?: number;
  optional?: boolean;
  modelValue: number | undefined;
}>();
const emit = defineEmits<{ 'update:modelValue': [number] }>();
</script>

<template>
  <div class="row">
    <label :for="id" :title="hint">{{ label }}</label>
    <LengthField
      :id="id"
      :model-value="modelValue"
      :unit="unit"
      :min="min"
      :max="max"
      :optional="optional"
      @update:model-value="emit('update:modelValue', $event as number)"
    />
  </div>
</template>
