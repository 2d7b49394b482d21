<script setup lang="ts">
/** Asks whether files that are called like sources of the job are new revisions of these, or sources of their own. */
import Dialog from 'primevue/dialog';
import { computed } from 'vue';
import { someNames } from '@noble-prism/core/read/belonging';
import { useJob } from '../stores/job.ts';

const store = useJob();
const files = computed(() => store.sameNames.map(({ file }) => file.name));
/** What is called alike: the file itself, or what is packed in it. */
const names = computed(() => [...new Set(store.sameNames.flatMap((same) => same.names))]);
const one = computed(() => names.value.length === 1);
const isPacked = computed(() => files.value.length === 1 && !names.value.includes(files.value[0]));
const header = computed(() => {
  if (isPacked.value) return `${files.value[0]} holds what is in this job already`;
  return one.value ? `${names.value[0]} is in this job already` : `${names.value.length} files are in this job already`;
});
</script>

<template>
  <Dialog :visible="store.sameNames.length > 0" modal :closable="false" :header="header" :style="{ width: '460px' }">
    <p v-if="!one || isPacked">{{ someNames(names) }}</p>
    <p>
      As {{ one ? 'a new revision' : 'new revisions' }}, {{ one ? 'it takes' : 'they take' }} the place of what is there
      when {{ one ? 'it has' : 'they have' }} been read: unit, names, finishes and picked parts stay, and undo takes
      {{ one ? 'it' : 'them' }} back.
      <template v-if="isPacked">Other models in it become sources of their own.</template>
    </p>
    <template #footer>
      <button class="act" @click="store.sameNames = []">Cancel</button>
      <button class="act" @click="store.takeSameNames('sources')">
        {{ one ? 'A source of its own' : 'Sources of their own' }}
      </button>
      <button class="act first" autofocus @click="store.takeSameNames('revisions')">
        {{ one ? 'New revision' : 'New revisions' }}
      </button>
    </template>
  </Dialog>
</template>
