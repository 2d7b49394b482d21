<script setup lang="ts">
import Toast from 'primevue/toast';
import './theme/sheetMode.ts';
</script>

<template>
  <RouterView />
  <Toast group="errors" position="bottom-center" />
</template>
