<script setup lang="ts">
/** A material by its colour and its name, on one line. */
import { useMaterialChoices } from './materialChoices.ts';

defineProps<{ id: string }>();
const { nameOf, colourOf } = useMaterialChoices();
</script>

<template>
  <span class="material" :title="nameOf(id)"
    ><i class="material-dot" :style="{ background: colourOf(id) || 'transparent' }" /><span>{{
      nameOf(id)
    }}</span></span
  >
</template>

<style scoped>
.material {
  display: flex;
  align-items: center;
  min-width: 0;
}
.material > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
