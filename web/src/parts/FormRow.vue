<script setup lang="ts">
/** One line of a form: what it is called on the left, the control on the right, what it is for when pointed at. */
defineProps<{ id?: string; label: string; hint?: string }>();
</script>

<template>
  <div class="row">
    <label v-if="id" :id="`${id}-label`" :for="id" :title="hint">{{ label }}</label>
    <span v-else class="label" :title="hint">{{ label }}</span>
    <slot />
  </div>
</template>
