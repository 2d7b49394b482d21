<script setup lang="ts">
/** What is made of models that were dropped together: what each job begins with, and where all of them are sent. */
import { computed, ref } from 'vue';
import { asPrismError } from '@noble-prism/core/errors';
import { READY_MADE } from '@noble-prism/core/transmit/targets/readyMade';
import { summaryOfTarget } from '@noble-prism/core/transmit/targets/target';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import { counted, formatBytes } from '@noble-prism/core/units';
import type { Batch } from '@noble-prism/wire/batch';
import type { JobSummary } from '@noble-prism/wire/job';
import { api } from '../../api/client.ts';
import ChoiceField from '../../parts/ChoiceField.vue';
import FormRow from '../../parts/FormRow.vue';
import { jobNames } from './batchNames.ts';
import { modelsIn } from './batchWords.ts';

const props = defineProps<{
  files: readonly File[];
  /** What of a folder is no model. */
  ignored: readonly string[];
  /** What a job can begin with. */
  beginnings: readonly { value: string | undefined; label: string; note?: string }[];
  template: string | undefined;
  jobs: readonly JobSummary[];
}>();
const emit = defineEmits<{ made: [batch: Batch]; cancel: [] }>();

const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const name = ref(`Batch of ${when.format(new Date())}`);
const template = ref(props.template);
const folder = ref(false);
const error = ref('');
const making = ref(false);
const size = computed(() => props.files.reduce((sum, file) => sum + file.size, 0));
const names = computed(() => jobNames(props.files));

const readyMade = (): Target[] => READY_MADE.map(({ name, settings }, i) => ({ id: `ready-${i}`, name, on: i === 0, settings })); // prettier-ignore
const targets = ref<Target[]>(readyMade());
/** Job whose targets are taken; those that are ready-made where nothing is said. */
const from = ref<string>();
const origins = computed(() => [
  { value: undefined, label: 'ready-made targets' },
  ...props.jobs.map(({ id, name }) => ({ value: id, label: `as in ${name}` })),
]);
const purposes = new Map(READY_MADE.map(({ name, purpose }) => [name, purpose]));
const chosen = computed(() => targets.value.filter(({ on }) => on));

async function takeFrom(id: string | undefined): Promise<void> {
  error.value = '';
  try {
    targets.value = id ? (await api.job(id)).targets : readyMade();
    from.value = id;
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
  }
}

async function make(): Promise<void> {
  making.value = true;
  error.value = '';
  try {
    const order = { name: name.value.trim(), jobs: names.value, template: template.value ?? null, targets: targets.value, folder: folder.value }; // prettier-ignore
    emit('made', await api.makeBatch(order));
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
  }
  making.value = false;
}
</script>

<template>
  <form class="batch" aria-label="New batch" @submit.prevent="make" @keydown.esc="emit('cancel')">
    <p class="caps">New batch</p>
    <p class="lead">
      {{ modelsIn(files.length) }}, {{ formatBytes(size) }}: a job for each, prepared and sent alike, one after the
      other.
    </p>
    <div class="names" tabindex="0" role="region" aria-label="Models">
      <ul>
        <li v-for="(file, i) in files" :key="i">
          <span class="clip" :title="file.name">{{ file.name }}</span>
          <span class="quiet">{{ formatBytes(file.size) }}</span>
        </li>
      </ul>
    </div>
    <p v-if="ignored.length" class="quiet small" :title="ignored.join('\n')">
      {{ counted(ignored.length, 'file is', 'files are') }} no model and left out.
    </p>
    <FormRow id="batch-name" label="Name">
      <span class="line-field"><input id="batch-name" v-model="name" maxlength="200" autocomplete="off" /></span>
    </FormRow>
    <FormRow id="batch-template" label="Begins with">
      <ChoiceField id="batch-template" v-model="template" :choices="beginnings" />
    </FormRow>
    <FormRow id="batch-targets" label="Sent to">
      <ChoiceField id="batch-targets" :model-value="from" :choices="origins" @update:model-value="takeFrom" />
    </FormRow>
    <ul class="targets">
      <li v-for="target in targets" :key="target.id">
        <label>
          <input v-model="target.on" type="checkbox" />
          <span>{{ target.name }}</span>
          <small class="quiet clip" :title="summaryOfTarget(target.settings)">{{
            (!from && purposes.get(target.name)) || summaryOfTarget(target.settings)
          }}</small>
        </label>
      </li>
    </ul>
    <label class="folder"
      ><input v-model="folder" type="checkbox" /> Also into the folder of deliveries on the server</label
    >
    <p v-if="error" class="bad" role="alert">{{ error }}</p>
    <p class="do">
      <button class="act first" :disabled="making || !name.trim() || !chosen.length">
        Prepare {{ modelsIn(files.length) }}
      </button>
      <button type="button" class="act" @click="emit('cancel')">Cancel</button>
      <span v-if="!chosen.length" class="quiet small">Choose at least one target.</span>
    </p>
  </form>
</template>

<style scoped>
.batch {
  display: grid;
  gap: 10px;
  padding: 16px 18px;
  background: var(--raised);
  border: 1px solid var(--rule);
}
.lead {
  font: 600 17px var(--serif);
}
.names {
  max-height: 156px;
  overflow: auto;
  scrollbar-width: thin;
}
/* As high as it is: columns of a list that is cut off would go on to the right. */
.names ul {
  columns: 2;
  column-gap: 28px;
}
.names li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  break-inside: avoid;
  padding: 2px 0;
  border-bottom: 1px solid var(--rule-soft);
}
.targets {
  display: grid;
  gap: 2px;
}
.targets label {
  display: grid;
  grid-template-columns: 16px 150px minmax(0, 1fr);
  gap: 10px;
  align-items: baseline;
}
.targets small,
.small {
  font-size: 12px;
}
input[type='checkbox'] {
  margin: 0;
}
.folder {
  display: flex;
  gap: 10px;
  align-items: center;
}
.do {
  display: flex;
  gap: 10px;
  align-items: center;
}
</style>
