<script setup lang="ts">
/** Long work under way: what is being done, how far it is, and a way to stop it. */
defineProps<{ what: string; state?: string }>();
const emit = defineEmits<{ cancel: [] }>();
</script>

<template>
  <p class="progress" role="status">
    <span class="clip" :title="what">{{ what }}</span> <span class="quiet state">{{ state }}</span>
    <button class="plain" @click="emit('cancel')">Cancel</button>
  </p>
</template>

<style scoped>
.progress {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.state {
  flex: 1;
  white-space: nowrap;
}
</style>
