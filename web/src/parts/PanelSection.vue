<script setup lang="ts">
/** A part of a panel under a small heading, between rules. */
defineProps<{ title: string; note?: string }>();
</script>

<template>
  <section class="section" :aria-label="title">
    <p class="caps">{{ title }}<span v-if="note" class="note"> {{ note }}</span></p>
    <slot />
  </section>
</template>

<style scoped>
.note {
  text-transform: none;
  letter-spacing: 0;
  font-weight: 400;
}
</style>
