<script setup lang="ts">
/** A batch: one table that fills, with what became of each model, and ways to have all of it. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import { asPrismError } from '@noble-prism/core/errors';
import { summaryOfTarget } from '@noble-prism/core/transmit/targets/target';
import { counted, formatBytes, formatCount } from '@noble-prism/core/units';
import type { Batch, BatchJob } from '@noble-prism/wire/batch';
import { bundled, droppedFiles } from '../api/bundle.ts';
import type { Dropped } from '../api/bundle.ts';
import { api } from '../api/client.ts';
import DataTable from '../parts/DataTable.vue';
import type { TableColumn } from '../parts/dataTable.ts';
import FileButton from '../parts/FileButton.vue';
import { useBatchUploads } from '../stores/batchUploads.ts';
import { filesFor } from './batch/batchNames.ts';
import { gathered, modelsIn, stateWords, summaryOf, summaryWords } from './batch/batchWords.ts';

const props = defineProps<{ id: string }>();
const router = useRouter();
const uploads = useBatchUploads();
const batch = shallowRef<Batch>();
const error = ref('');
const doomed = ref(false);
const now = ref(Date.now());
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

const summary = computed(() => summaryOf(batch.value?.jobs ?? []));
const settled = computed(() => (batch.value?.jobs.length ?? 0) - summary.value.open);
const bytes = computed(() => batch.value?.jobs.reduce((sum, job) => sum + (job.bytes ?? 0), 0) ?? 0);
/** Jobs whose file is nowhere on its way. */
const missing = computed(
  () => batch.value?.jobs.filter(({ job, state }) => state === 'waiting' && (uploads.uploads.get(job)?.error ?? !uploads.uploads.has(job))) ?? [], // prettier-ignore
);
/** What of a job went wrong, in sentences. */
function saidOf({ job, problems, error: failed }: BatchJob): string[] {
  const lost = uploads.uploads.get(job)?.error;
  return [...problems, ...(failed && problems.length === 0 ? [failed.message] : []), ...(lost ? [lost] : [])];
}
const troubles = computed(() => gathered(batch.value?.jobs ?? [], saidOf));

const words = (job: BatchJob) => stateWords(job, uploads.uploads.get(job.job), now.value);
const ORDER: readonly BatchJob['state'][] = ['failed', 'incomplete', 'stopped', 'sending', 'preparing', 'reading', 'queued', 'waiting', 'sent']; // prettier-ignore
const columns: readonly TableColumn<BatchJob>[] = [
  { id: 'picture', title: '', width: '60px' },
  { id: 'name', title: 'Model', width: 'minmax(0, 1.1fr)', by: ({ name }) => name },
  { id: 'state', title: 'State', width: 'minmax(0, 1.6fr)', by: ({ state }) => ORDER.indexOf(state) },
  { id: 'parts', title: 'Parts', width: '80px', figure: true, by: ({ parts }) => parts, text: ({ parts }) => figure(parts) }, // prettier-ignore
  { id: 'triangles', title: 'Triangles', width: '100px', figure: true, by: ({ triangles }) => triangles, text: ({ triangles }) => figure(triangles) }, // prettier-ignore
  { id: 'files', title: 'Files', width: '60px', figure: true, by: ({ files }) => files, text: ({ files }) => figure(files) }, // prettier-ignore
  { id: 'bytes', title: 'Size', width: '90px', figure: true, by: (job) => job.bytes, text: (job) => (job.bytes === undefined ? '' : formatBytes(job.bytes)) }, // prettier-ignore
  { id: 'links', title: '', width: '150px' },
];
const figure = (count: number | undefined) => (count === undefined ? '' : formatCount(count));

/** Asks again while something happens by itself. */
const EVERY = 1000;
let timer: ReturnType<typeof setTimeout> | undefined;
let isGone = false;
async function watchOver(): Promise<void> {
  clearTimeout(timer);
  try {
    batch.value = await api.batch(props.id);
    document.title = `${batch.value.name} · Noble Prism`;
    error.value = '';
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
    if (!batch.value) return;
  }
  now.value = Date.now();
  if (!isGone && summary.value.open > 0) timer = setTimeout(() => void watchOver(), EVERY);
}

async function doing(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
    return;
  }
  await watchOver();
}
const sendAgain = (jobs?: string[]) => doing(() => api.sendBatch(props.id, jobs));
const stop = () =>
  doing(async () => {
    uploads.cancel(batch.value?.jobs.map(({ job }) => job) ?? []);
    await api.stopBatch(props.id);
  });
const remove = (withJobs: boolean) =>
  doing(async () => {
    await api.deleteBatch(props.id, withJobs);
    await router.push({ name: 'jobs' });
  });

/** Files that were missing, chosen or dropped again. */
const complete = (dropped: readonly Dropped[]) =>
  doing(async () => {
    const { files } = await bundled(dropped);
    const found = filesFor(missing.value, files);
    if (found.length === 0) throw new Error('None of these files is called like a model that is missing.');
    void uploads.send(found);
  });
function drop(event: DragEvent): void {
  if (event.dataTransfer && missing.value.length > 0) void droppedFiles(event.dataTransfer).then(complete);
}

/** T sends again, as in the station. */
function key(event: KeyboardEvent): void {
  const typing = (event.target as HTMLElement | null)?.closest('input, textarea, select');
  if (event.key.toLowerCase() !== 't' || event.ctrlKey || event.metaKey || event.altKey || typing) return;
  if (settled.value > 0) void sendAgain();
}

onMounted(() => {
  window.addEventListener('keydown', key);
  void watchOver();
});
onBeforeUnmount(() => {
  isGone = true;
  clearTimeout(timer);
  window.removeEventListener('keydown', key);
});
</script>

<template>
  <main class="page" @dragover.prevent @drop.prevent="drop">
    <p class="back"><RouterLink :to="{ name: 'jobs' }">All jobs</RouterLink></p>
    <p v-if="error" class="bad" role="alert">{{ error }}</p>
    <template v-if="batch">
      <header>
        <h1>{{ batch.name }}</h1>
        <p role="status">
          {{ modelsIn(batch.jobs.length) }}: {{ summaryWords(summary)
          }}<template v-if="bytes">; {{ formatBytes(bytes) }}</template>
        </p>
        <p class="quiet small" :title="when.format(new Date(batch.made_at))">
          Sent to
          <span
            v-for="(target, i) in batch.targets.filter(({ on }) => on)"
            :key="target.id"
            :title="summaryOfTarget(target.settings)"
            >{{ i ? ', ' : '' }}{{ target.name }}</span
          ><template v-if="batch.folder">, also into the folder of deliveries</template>
        </p>
        <progress :value="settled" :max="batch.jobs.length" :aria-label="`${settled} of ${batch.jobs.length} done`" />
        <p class="links">
          <a v-if="bytes" class="act" :href="`/api/batches/${batch.id}/file`" download>All files</a>
          <button v-if="settled" class="act" title="T" @click="sendAgain()">Send again</button>
          <button v-if="summary.open" class="act" @click="stop">Stop</button>
          <button class="plain" :aria-expanded="doomed" @click="doomed = !doomed">Delete…</button>
        </p>
        <p v-if="doomed" class="confirm" role="alert">
          With the jobs go their sources, preparations and what was sent, for good.
          <button class="act danger" @click="remove(true)">Delete with {{ counted(batch.jobs.length, 'job') }}</button>
          <button class="act" @click="remove(false)">Delete the batch alone</button>
          <button class="act" @click="doomed = false">Keep</button>
        </p>
        <p v-if="missing.length" class="missing" role="alert">
          {{ counted(missing.length, 'file has', 'files have') }} not arrived. Drop them here, or
          <FileButton label="Files that are missing" look="plain link" multiple @choose="complete"
            >choose them</FileButton
          >.
        </p>
      </header>
      <DataTable
        class="table"
        label="Models of the batch"
        :columns="columns"
        :rows="batch.jobs"
        :key-of="({ job }) => job"
        :row-height="38"
      >
        <template #cell-picture="{ row }"
          ><span class="picture"
            ><img
              v-if="row.picture"
              :src="`/api/jobs/${row.job}/picture?of=${row.picture.slice(0, 12)}`"
              alt="" /></span
        ></template>
        <template #cell-name="{ row }"
          ><RouterLink :to="{ name: 'bench', params: { job: row.job } }" :title="row.sources.join(', ') || row.name">{{
            row.name
          }}</RouterLink></template
        >
        <template #cell-state="{ row }"
          ><span :class="words(row).tone">{{ words(row).text }}</span
          ><span v-if="saidOf(row)[0]" class="quiet why" :title="saidOf(row).join('\n')">{{
            saidOf(row)[0]
          }}</span></template
        >
        <template #cell-links="{ row }">
          <span class="row-links">
            <a
              v-if="row.transmittal"
              :href="`/api/transmittals/${row.transmittal}/file`"
              :aria-label="`Files of ${row.name}`"
              download
              >Files</a
            >
            <a
              v-if="row.transmittal"
              :href="`/api/transmittals/${row.transmittal}/report`"
              :aria-label="`Report of ${row.name}`"
              download
              >Report</a
            >
            <button
              v-if="row.sendable && ['failed', 'incomplete', 'stopped'].includes(row.state)"
              class="plain link"
              :aria-label="`Send ${row.name} again`"
              @click="sendAgain([row.job])"
            >
              Again
            </button>
          </span>
        </template>
      </DataTable>
      <section v-if="troubles.length" aria-label="What went wrong" class="troubles">
        <p class="caps">What went wrong</p>
        <dl v-for="{ text, jobs } in troubles" :key="text">
          <dt>{{ modelsIn(jobs.length) }}</dt>
          <dd>
            {{ text }}
            <p class="small">
              <RouterLink v-for="job in jobs" :key="job.job" :to="{ name: 'bench', params: { job: job.job } }">{{
                job.name
              }}</RouterLink>
            </p>
          </dd>
        </dl>
      </section>
    </template>
    <p v-else-if="!error" class="quiet">Loading …</p>
  </main>
</template>

<style scoped>
.page {
  max-width: 1080px;
  min-height: 100vh;
  margin: 0 auto;
  padding: 32px 24px;
  display: grid;
  gap: 16px;
  align-content: start;
}
h1 {
  font-size: 26px;
  line-height: 1.2;
  overflow-wrap: anywhere;
}
header {
  display: grid;
  gap: 6px;
}
.small {
  font-size: 12px;
}
progress {
  width: 100%;
  height: 4px;
  border: 0;
  background: var(--rule-soft);
  appearance: none;
}
progress::-webkit-progress-bar {
  background: var(--rule-soft);
}
progress::-webkit-progress-value {
  background: var(--ink);
}
progress::-moz-progress-bar {
  background: var(--ink);
}
.links,
.confirm {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.table {
  --table-sheet: var(--paper);
  font-size: 13px;
}
.table a,
.troubles a {
  text-decoration-color: var(--rule);
  text-underline-offset: 3px;
}
a.act {
  text-decoration: none;
}
.picture {
  display: block;
  width: 48px;
  height: 30px;
  background: linear-gradient(var(--view-top), var(--view-low));
}
.picture img {
  display: block;
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.why {
  margin-left: 8px;
  font-size: 12px;
}
.row-links {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding-left: 12px;
}
.troubles dl {
  display: grid;
  grid-template-columns: 90px minmax(0, 1fr);
  gap: 2px 16px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule-soft);
}
.troubles dd {
  margin: 0;
}
.troubles dd p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
}
</style>
