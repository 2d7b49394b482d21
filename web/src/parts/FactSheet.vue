<script setup lang="ts">
/** What something says of itself, a line for each fact ({@link FactLine}), where facts hold controls or go over several lines. */
</script>

<template>
  <dl class="fact-sheet"><slot /></dl>
</template>

<style scoped>
.fact-sheet {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
  align-items: baseline;
  gap: 2px 8px;
}
</style>
