<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { asPrismError } from '@noble-prism/core/errors';
import { api } from '../api/client.ts';
import type { JobSummary } from '../api/client.ts';
import PrismMark from '../bench/PrismMark.vue';
import { dark, turnSheet } from '../theme/sheetMode.ts';

const router = useRouter();
const jobs = ref<JobSummary[]>();
const error = ref('');
const name = ref('');
const making = ref(false);
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

onMounted(async () => {
  document.title = 'Noble Prism';
  try {
    jobs.value = await api.jobs();
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
  }
});

async function make(): Promise<void> {
  if (!name.value.trim()) return;
  making.value = true;
  try {
    const job = await api.makeJob(name.value.trim());
    await router.push({ name: 'bench', params: { job: job.id } });
  } catch (thrown) {
    error.value = asPrismError(thrown).message;
  } finally {
    making.value = false;
  }
}
</script>

<template>
  <main class="jobs">
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

    <section aria-label="Jobs">
      <p class="caps">Jobs</p>
      <table v-if="jobs?.length">
        <thead>
          <tr>
            <th>Name</th>
            <th class="figure">Sources</th>
            <th class="figure">Version</th>
            <th class="figure">Last changed</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="job in jobs" :key="job.id">
            <td>
              <RouterLink :to="{ name: 'bench', params: { job: job.id } }">{{ job.name }}</RouterLink>
            </td>
            <td class="figure">{{ job.sources }}</td>
            <td class="figure">{{ job.version }}</td>
            <td class="figure quiet">{{ when.format(new Date(job.updated_at)) }}</td>
          </tr>
        </tbody>
      </table>
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
        <button class="act first" :disabled="!name.trim() || making">Make job</button>
      </div>
    </form>
  </main>
</template>

<style scoped>
.jobs {
  max-width: 780px;
  margin: 0 auto;
  padding: 64px 24px;
  display: grid;
  gap: 36px;
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
table {
  width: 100%;
  border-collapse: collapse;
  border-top: 1px solid var(--ink);
  margin-top: 8px;
}
th {
  font-weight: 400;
  color: var(--ink-2);
  text-align: left;
  font-size: 12px;
  padding: 6px 12px 6px 0;
  border-bottom: 1px solid var(--rule);
}
th.figure {
  text-align: right;
}
td {
  padding: 9px 12px 9px 0;
  border-bottom: 1px solid var(--rule);
}
th:last-child,
td:last-child {
  padding-right: 0;
}
td a {
  font: 600 16px var(--serif);
  color: var(--ink);
  text-decoration-color: var(--rule);
  text-underline-offset: 3px;
}
td a:hover {
  color: var(--iris);
}
.empty {
  padding: 14px 0;
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
</style>
