<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { asPrismError } from '@noble-prism/core/errors';
import { counted } from '@noble-prism/core/units';
import { api } from '../api/client.ts';
import type { Batch, BatchSummary } from '@noble-prism/wire/batch';
import type { JobSummary, Template } from '@noble-prism/wire/job';
import { bundled, droppedFiles } from '../api/bundle.ts';
import type { Bundle, Dropped } from '../api/bundle.ts';
import FileButton from '../parts/FileButton.vue';
import { useBatchUploads } from '../stores/batchUploads.ts';
import BatchForm from './batch/BatchForm.vue';
import { filesFor } from './batch/batchNames.ts';
import { modelsIn, summaryWords } from './batch/batchWords.ts';
import ChoiceField from '../parts/ChoiceField.vue';
import PrismMark from '../bench/PrismMark.vue';
import SpaceLine from './SpaceLine.vue';
import { dark, turnSheet } from '../theme/sheetMode.ts';

const router = useRouter();
const jobs = ref<JobSummary[]>();
const error = ref('');
const name = ref('');
const templates = ref<Template[]>([]);
/** What the new job begins with; the usual steps where nothing is said. */
const template = ref<string>();
const beginnings = computed(() => [
  { value: undefined, label: 'the usual steps' },
  ...templates.value.map(({ id, name, steps }) => ({ value: id, label: name, note: counted(steps.length, 'step') })),
]);
const sought = ref('');
const making = ref(false);
/** The job that is about to be deleted, until that is confirmed. */
const doomed = ref<string>();
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** From so many on, jobs are searched for rather than looked for. */
const MANY = 6;
const found = computed(() => {
  const text = sought.value.trim().toLowerCase();
  // Jobs of batches stand with their batch, and are found here by name.
  return jobs.value?.filter(({ name, batch }) => (text ? name.toLowerCase().includes(text) : !batch)) ?? [];
});
const batches = ref<BatchSummary[]>([]);
const uploads = useBatchUploads();
/** Models that were dropped, until it is said what is made of them. */
const dropped = ref<Bundle>();
const dropping = ref(0);
const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;

function drop(event: DragEvent): void {
  dropping.value = 0;
  if (event.dataTransfer) take(droppedFiles(event.dataTransfer));
}
function take(files: Promise<Dropped[]> | Dropped[]): void {
  void guarded(async () => {
    const bundle = await bundled(await files);
    if (bundle.files.length === 0) throw new Error('There is no model in what was dropped.');
    dropped.value = bundle;
  });
}
function send({ id, jobs: made }: Batch): void {
  void uploads.send(filesFor(made, dropped.value?.files ?? []));
  void router.push({ name: 'batch', params: { id } });
}

async function load(): Promise<void> {
  [jobs.value, templates.value, batches.value] = await Promise.all([api.jobs(), api.templates(), api.batches()]);
  template.value = templates.value.find(({ every }) => every)?.id;
}

async function guarded(work: () => Promise<void>): Promise<void> {
  error.value = '';
  try {
    await work();
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
  }
}

onMounted(() => {
  document.title = 'Noble Prism';
  void guarded(load);
});

async function make(): Promise<void> {
  if (!name.value.trim()) return;
  making.value = true;
  await guarded(async () => {
    const job = await api.makeJob(name.value.trim(), template.value ?? null);
    await router.push({ name: 'bench', params: { job: job.id } });
  });
  making.value = false;
}

/** A name that no other job has yet. */
function copyName(of: string): string {
  const taken = new Set(jobs.value?.map((job) => job.name));
  for (let n = 1; ; n++) {
    const next = `${of.slice(0, 185)}, copy${n > 1 ? ` ${n}` : ''}`;
    if (!taken.has(next)) return next;
  }
}

const copy = (job: JobSummary) =>
  guarded(async () => {
    await api.copyJob(job.id, copyName(job.name));
    await load();
  });

const remove = (job: JobSummary) =>
  guarded(async () => {
    await api.deleteJob(job.id);
    doomed.value = undefined;
    await load();
  });
</script>

<template>
  <main
    class="jobs"
    @dragenter="hasFiles($event) && dropping++"
    @dragleave="hasFiles($event) && dropping--"
    @dragover.prevent
    @drop.prevent="drop"
  >
    <div v-if="dropping > 0" class="drop" aria-hidden="true"><p>Drop models: a job for each</p></div>
    <header>
      <PrismMark class="mark" />
      <div>
        <h1>Noble Prism</h1>
        <p class="quiet">
          Engineering and architectural models, made ready for pictures, real-time scenes and headsets.
        </p>
      </div>
      <button class="plain sheet" @click="turnSheet">{{ dark ? 'Light sheet' : 'Dark sheet' }}</button>
    </header>

    <p v-if="error" class="bad" role="alert">{{ error }}</p>

    <BatchForm
      v-if="dropped && jobs"
      :files="dropped.files"
      :ignored="dropped.ignored"
      :beginnings="beginnings"
      :template="template"
      :jobs="jobs"
      @made="send"
      @cancel="dropped = undefined"
    />

    <section v-if="batches.length" aria-label="Batches">
      <p class="caps">Batches</p>
      <ul class="batches">
        <li v-for="batch in batches" :key="batch.id">
          <RouterLink class="name" :to="{ name: 'batch', params: { id: batch.id } }">{{ batch.name }}</RouterLink>
          <span class="quiet">{{ modelsIn(batch.jobs) }}: {{ summaryWords(batch) }}</span>
        </li>
      </ul>
    </section>

    <section aria-label="Jobs">
      <div class="title">
        <p class="caps">Jobs</p>
        <span v-if="jobs && jobs.length >= MANY" class="line-field">
          <input v-model="sought" type="search" placeholder="Find a job" aria-label="Find a job" />
        </span>
      </div>
      <ul v-if="found.length">
        <li v-for="job in found" :key="job.id">
          <RouterLink :to="{ name: 'bench', params: { job: job.id } }" class="picture" tabindex="-1" aria-hidden="true">
            <img v-if="job.picture" :src="`/api/jobs/${job.id}/picture?of=${job.picture.slice(0, 12)}`" alt="" />
            <PrismMark v-else class="none" />
          </RouterLink>
          <div class="what">
            <RouterLink class="name" :to="{ name: 'bench', params: { job: job.id } }">{{ job.name }}</RouterLink>
            <p class="quiet">
              {{ counted(job.sources, 'source') }}, version {{ job.version }}, last changed
              {{ when.format(new Date(job.updated_at)) }}
            </p>
            <p v-if="doomed === job.id" class="confirm" role="alert">
              Sources, preparation and what was sent go for good.
              <button class="act danger" @click="remove(job)">Delete {{ job.name }}</button>
              <button class="act" @click="doomed = undefined">Keep</button>
            </p>
          </div>
          <div class="actions">
            <button class="plain" :aria-label="`Duplicate ${job.name}`" @click="copy(job)">Duplicate</button>
            <button
              class="plain"
              :aria-label="`Delete ${job.name}`"
              :aria-expanded="doomed === job.id"
              @click="doomed = doomed === job.id ? undefined : job.id"
            >
              Delete…
            </button>
          </div>
        </li>
      </ul>
      <p v-else-if="jobs?.length" class="quiet empty">No job is called “{{ sought }}”.</p>
      <p v-else-if="jobs" class="quiet empty">
        No job yet. Give the first one a name below; then drop a STEP file on its bench.
      </p>
      <p v-else-if="!error" class="quiet empty">Loading …</p>
    </section>

    <form @submit.prevent="make">
      <label class="caps" for="job-name">New job</label>
      <div class="make">
        <span class="line-field"
          ><input
            id="job-name"
            v-model="name"
            maxlength="200"
            placeholder="What is the commission called?"
            autocomplete="off"
        /></span>
        <ChoiceField
          v-if="templates.length"
          v-model="template"
          class="begins"
          label="Begins with"
          :choices="beginnings"
        />
        <button class="act first" :disabled="!name.trim() || making">Make job</button>
      </div>
      <p class="quiet many">
        Many models at once: drop them here, or
        <FileButton label="Models of a batch" look="plain link" multiple type="button" @choose="take"
          >choose files</FileButton
        >
        or
        <FileButton label="Folder of a batch" look="plain link" folder type="button" @choose="take">a folder</FileButton
        >. Each becomes a job, prepared and sent alike.
      </p>
    </form>
    <SpaceLine @changed="guarded(load)" />
  </main>
</template>

<style scoped>
/* Within a sentence. */
.many :deep(button) {
  padding: 0;
}
.jobs {
  max-width: 860px;
  margin: 0 auto;
  padding: 48px 24px;
  display: grid;
  gap: 32px;
}
header {
  display: flex;
  align-items: center;
  gap: 16px;
}
header > div {
  flex: 1;
}
.mark {
  width: 54px;
}
h1 {
  font-size: 26px;
  line-height: 1.2;
}
.title {
  display: flex;
  justify-content: space-between;
  align-items: end;
  min-height: 26px;
}
.title .line-field {
  width: 220px;
}
ul {
  border-top: 1px solid var(--ink);
  margin-top: 8px;
}
li {
  display: grid;
  grid-template-columns: 144px minmax(0, 1fr) auto;
  gap: 18px;
  align-items: center;
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.picture {
  display: grid;
  place-content: center;
  height: 90px;
  background: linear-gradient(var(--view-top), var(--view-low));
  border: 1px solid var(--rule);
  overflow: hidden;
}
.picture img {
  width: 144px;
  height: 90px;
  object-fit: cover;
}
.none {
  width: 40px;
  opacity: 0.35;
}
.name {
  font: 600 17px var(--serif);
  color: var(--ink);
  text-decoration-color: var(--rule);
  text-underline-offset: 3px;
  overflow-wrap: anywhere;
}
.name:hover {
  color: var(--iris);
}
.confirm {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
.actions {
  display: flex;
  gap: 12px;
}
.empty {
  padding: 14px 0;
}
.batches li {
  grid-template-columns: minmax(0, 1fr) auto;
}
.many {
  margin-top: 8px;
}
.many button {
  padding: 0;
}
.drop {
  position: fixed;
  inset: 12px;
  z-index: 10;
  display: grid;
  place-content: center;
  background: color-mix(in srgb, var(--paper) 85%, transparent);
  border: 2px dashed var(--iris);
  pointer-events: none;
}
.drop p {
  font: 600 22px var(--serif);
}
.make {
  display: flex;
  gap: 16px;
  align-items: end;
  margin-top: 6px;
}
.make .line-field {
  flex: 1;
}
.make .begins {
  width: 190px;
}
</style>
