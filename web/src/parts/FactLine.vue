<script setup lang="ts">
/** A fact within a {@link FactSheet}: what it is called, and what it is. Without a name it belongs to the one above. */
defineProps<{
  name?: string;
  /** One line that is cut off where it is too long, with all of it as a tip. */
  whole?: string;
}>();
</script>

<template>
  <dt>{{ name }}</dt>
  <dd :class="{ clip: whole !== undefined }" :title="whole"><slot /></dd>
</template>

<style scoped>
dt {
  color: var(--ink-2);
}
dd {
  min-width: 0;
}
</style>
