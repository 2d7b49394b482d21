<script setup lang="ts">
/** Where nothing is yet: what will be here, and what to do next. */
</script>

<template>
  <p class="quiet empty-state"><slot /></p>
</template>
