<script setup lang="ts">
/** One material out of the library and the job, each with its ball. */
import ChoiceField from '../../parts/ChoiceField.vue';
import MaterialBall from './MaterialBall.vue';
import { useMaterialChoices } from './materialChoices.ts';

defineProps<{ id?: string; label?: string; modelValue: string | undefined; placeholder?: string }>();
const emit = defineEmits<{ 'update:modelValue': [string | undefined] }>();
const { choices, materialOf } = useMaterialChoices();
</script>

<template>
  <ChoiceField
    :id="id"
    :label="label"
    :model-value="modelValue"
    :choices="choices"
    :placeholder="placeholder"
    @update:model-value="emit('update:modelValue', $event)"
  >
    <template #mark="{ value }"><MaterialBall class="mark" :material="materialOf(value)" :size="18" /></template>
  </ChoiceField>
</template>

<style scoped>
.mark {
  margin-right: 7px;
}
</style>
