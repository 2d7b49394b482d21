<script setup lang="ts">
import './theme/sheetMode.ts';
</script>

<template>
  <RouterView />
</template>
