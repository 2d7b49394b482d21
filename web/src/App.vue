<script setup lang="ts">
import Toast from 'primevue/toast';
import './theme/sheetMode.ts';
</script>

<template>
  <RouterView />
  <Toast position="bottom-left" />
</template>
