<script setup lang="ts">
/** A search over a list that is too long to be read; nothing where it is short. */
import { formatCount } from '@noble-prism/core/units';

const model = defineModel<string | undefined>();
defineProps<{ /** Entries of the list. */ count: number; /** What they are, in small letters. */ of: string }>();

/** Up to so many, entries are looked for faster than typed. */
const MANY = 20;
</script>

<template>
  <span v-if="count > MANY" class="line-field">
    <input v-model="model" type="search" :aria-label="`Find in ${of}`" :placeholder="`Find in ${formatCount(count)}`" />
  </span>
</template>

<style scoped>
span {
  margin: 4px 0 2px;
}
</style>
