<script setup lang="ts">
/** Keeps steps as a template, or gives them to another job. What their rules find there is seen in its sheet of steps. */
import { computed, onMounted, ref } from 'vue';
import { asPrismError } from '@noble-prism/core/errors';
import { signedSteps } from '@noble-prism/core/preparation/equals';
import { stepsFor } from '@noble-prism/core/preparation/template';
import { withSteps } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import { api } from '../api/client.ts';
import type { JobSummary } from '@noble-prism/wire/job';
import { useJob } from '../stores/job.ts';
import ChoiceField from '../parts/ChoiceField.vue';
import { newId } from './stepEdits.ts';

const props = defineProps<{ steps: Step[] }>();
const emit = defineEmits<{ done: [] }>();
const store = useJob();
const name = ref(store.job?.name ?? '');
const jobs = ref<JobSummary[]>([]);
const other = ref<string>();
const said = ref('');
const wrong = ref('');

const others = computed(() =>
  jobs.value.filter(({ id }) => id !== store.job?.id).map((job) => ({ value: job.id, label: job.name })),
);
const signed = () => signedSteps(store.base, props.steps);
const sources = () => store.sources.map((source) => ({ id: source.id, name: source.name }));

onMounted(() => guarded(async () => void (jobs.value = await api.jobs())));

async function guarded(work: () => Promise<void>): Promise<void> {
  wrong.value = said.value = '';
  try {
    await work();
  } catch (thrown) {
    wrong.value = asPrismError(thrown).message;
  }
}

const keep = () =>
  guarded(async () => {
    await api.keepTemplate({ name: name.value.trim(), steps: signed(), sources: sources() });
    said.value = `Kept as the template “${name.value.trim()}”.`;
  });

const give = () =>
  guarded(async () => {
    if (!other.value) return;
    const job = await api.job(other.value);
    const theirs = job.sources
      .filter(({ id }) => job.version.sources.includes(id))
      .map(({ slot, name }) => ({ id: slot, name }));
    const given = stepsFor(signed(), sources(), theirs);
    await api.save(job.id, {
      base: job.version.number,
      note: `${counted(given.length, 'step')} from ${store.job?.name}`.slice(0, 300),
      steps: withSteps(job.version.steps, given, newId),
      sources: job.version.sources,
    });
    said.value = `${counted(given.length, 'step')} given to ${job.name}; what their rules find there stands in its sheet of steps.`;
  });
</script>

<template>
  <div class="give">
    <form @submit.prevent="keep">
      <label for="template-name">As a template called</label>
      <span class="line-field"><input id="template-name" v-model="name" maxlength="200" autocomplete="off" /></span>
      <button class="act" :disabled="!name.trim()">Keep {{ counted(steps.length, 'step') }}</button>
    </form>
    <form @submit.prevent="give">
      <label id="give-to-label" for="give-to">To another job</label>
      <ChoiceField
        id="give-to"
        v-model="other"
        :choices="others"
        :placeholder="others.length ? 'choose a job' : 'there is no other'"
      />
      <button class="act" :disabled="!other">Give {{ counted(steps.length, 'step') }}</button>
    </form>
    <button class="plain" @click="emit('done')">Close</button>
    <p v-if="said" class="good" role="status">{{ said }}</p>
    <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.give {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 28px;
  align-items: center;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}
form {
  display: flex;
  gap: 8px;
  align-items: center;
}
label {
  color: var(--ink-2);
  white-space: nowrap;
}
form > :nth-child(2) {
  width: 200px;
}
p {
  flex-basis: 100%;
}
</style>
