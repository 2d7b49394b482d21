<script setup lang="ts">
/** Starts a movement in the view, and stops it. */
defineProps<{ playing: boolean; hint?: string }>();
defineEmits<{ click: [] }>();
</script>

<template>
  <button
    class="plain"
    :aria-label="playing ? 'Pause' : 'Play'"
    :title="playing ? 'Pause' : (hint ?? 'Play')"
    @click="$emit('click')"
  >
    <svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
      <path v-if="playing" d="M2 1h3v10H2zM7 1h3v10H7z" fill="currentColor" />
      <path v-else d="M2 1l9 5-9 5z" fill="currentColor" />
    </svg>
  </button>
</template>
