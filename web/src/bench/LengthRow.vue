<script setup lang="ts">
/** One line of a form: a name, and a length, share or angle with its unit. */
import LengthField from './LengthField.vue';

defineProps<{ id: string; label: string; hint?: string; unit: string; min?: number; max?: number }>();
const value = defineModel<number>({ required: true });
</script>

<template>
  <div class="row">
    <label :for="id" :title="hint">{{ label }}</label>
    <LengthField :id="id" v-model="value" :unit="unit" :min="min" :max="max" />
  </div>
</template>
