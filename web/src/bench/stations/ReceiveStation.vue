<script setup lang="ts">
import { ref } from 'vue';
import { READABLE_ENDINGS } from '@noble-prism/core/read/endings';
import { someNames } from '@noble-prism/core/read/belonging';
import { formatBytes } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import SourceSheet from './SourceSheet.vue';
import TessellationForm from './TessellationForm.vue';

const store = useJob();
const chooser = ref<HTMLInputElement>();

function choose(event: Event): void {
  const input = event.target as HTMLInputElement;
  void store.receive([...(input.files ?? [])].map((file) => ({ path: file.name, file })));
  input.value = '';
}
</script>

<template>
  <div class="section">
    <p class="caps">Sources</p>
    <p v-if="!store.sources.length" class="quiet">
      None yet. Drop models anywhere: one file, many, a folder or a zip. A mesh, its material file and its pictures
      belong together; each model is a source of its own.
    </p>
    <SourceSheet v-for="source in store.sources" :key="source.id" :source="source" />
    <p v-for="entry in store.uploads" :key="entry.number" class="upload">
      {{ entry.name }} <span class="quiet">{{ formatBytes(entry.sent) }} of {{ formatBytes(entry.total) }}</span>
      <button class="plain" @click="entry.cancel()">Cancel</button>
    </p>
    <p v-if="store.ignored.length" class="quiet ignored" role="status">
      Left out of the folder, since {{ store.ignored.length === 1 ? 'it is no model' : 'they are no models' }}:
      {{ someNames(store.ignored) }}. <button class="plain" @click="store.ignored = []">Understood</button>
    </p>
    <input
      ref="chooser"
      type="file"
      multiple
      :accept="READABLE_ENDINGS"
      class="visually-hidden"
      aria-label="Choose files"
      tabindex="-1"
      @change="choose"
    />
    <button class="act" :class="{ first: !store.sources.length }" @click="chooser?.click()">Choose files…</button>
  </div>
  <TessellationForm />
</template>

<style scoped>
.upload,
.ignored {
  margin-bottom: 8px;
}
</style>
