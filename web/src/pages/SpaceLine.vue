<script setup lang="ts">
/** How much space everything takes, and cleaning up what nothing needs. */
import { computed, onMounted, ref } from 'vue';
import { asPrismError } from '@noble-prism/core/errors';
import { formatBytes } from '@noble-prism/core/units';
import { api } from '../api/client.ts';
import type { Space } from '@noble-prism/wire/space';

const emit = defineEmits<{ changed: [] }>();
const space = ref<Space>();
const running = ref(false);
const said = ref('');

const total = computed(() => {
  const { used, uploads, database } = space.value ?? { used: { bytes: 0 }, uploads: { bytes: 0 }, database: 0 };
  return used.bytes + uploads.bytes + database;
});

async function load(): Promise<void> {
  // Not worth an error: it is a line at the foot of the page.
  space.value = await api.space().catch(() => undefined);
}
onMounted(load);

async function sweep(): Promise<void> {
  running.value = true;
  said.value = '';
  try {
    const { freed } = await api.sweep();
    said.value = freed.bytes > 0 ? `${formatBytes(freed.bytes)} freed.` : 'Nothing older than a day was spare.';
    emit('changed');
  } catch (thrown) {
    said.value = asPrismError(thrown).message;
  }
  running.value = false;
  await load();
}
</script>

<template>
  <p v-if="space" class="quiet space">
    {{ formatBytes(total) }} in use: files and meshes {{ formatBytes(space.used.bytes) }}, uploads under way
    {{ formatBytes(space.uploads.bytes) }}, database {{ formatBytes(space.database) }}.
    <button class="plain link" :disabled="running" @click="sweep">{{ running ? 'Cleaning up …' : 'Clean up' }}</button>
    <span role="status"> {{ said }}</span>
  </p>
</template>

<style scoped>
.space {
  font-size: 12px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
</style>
