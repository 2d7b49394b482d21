<script setup lang="ts">
import { onBeforeUnmount } from 'vue';
import { keepFocusInSheets } from './parts/sheetFocus.ts';
import './theme/sheetMode.ts';

onBeforeUnmount(keepFocusInSheets(document));
</script>

<template>
  <RouterView />
</template>
