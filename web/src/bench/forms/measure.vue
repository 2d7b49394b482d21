<script setup lang="ts">
/** Measures that are kept, with what they say now, over the form that keeps another. */
import { computed } from 'vue';
import { measuredWords } from '@noble-prism/core/measure/kept';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { useJob } from '../../stores/job.ts';
import StepForm from '../StepForm.vue';
import { openStep } from '../stepEdits.ts';

const store = useJob();
const kept = computed(() =>
  store.steps
    .filter(({ kind }) => kind === 'measure')
    .map((step) => {
      const report = store.evaluation?.reports.find(({ id }) => id === step.id);
      const { name } = step.parameters as { name: string };
      const words = report?.measured
        ? measuredWords(report.measured, unitOf(store.scene))
        : !step.on
          ? 'switched off'
          : report?.pending
            ? 'being computed'
            : 'cannot be taken';
      return {
        id: step.id,
        name,
        words,
        isBad: !report?.measured && step.on && !report?.pending,
        problems: report?.problems ?? [],
      };
    }),
);
</script>

<template>
  <dl v-if="kept.length" class="kept" aria-label="Kept measures">
    <template v-for="{ id, name, words, isBad, problems } in kept" :key="id">
      <dt>
        <button class="plain link" :aria-pressed="openStep === id" @click="openStep = openStep === id ? undefined : id">
          {{ name }}
        </button>
      </dt>
      <dd :class="{ warn: isBad || problems.length }" :title="problems.join('\n')">{{ words }}</dd>
    </template>
  </dl>
  <StepForm kind="measure" />
</template>

<style scoped>
.kept {
  display: grid;
  grid-template-columns: minmax(60px, max-content) minmax(0, 1fr);
  gap: 3px 12px;
  margin: 2px 0 10px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--rule-soft);
  font-size: 12px;
}
.kept .link {
  padding: 0;
  font-size: 12px;
}
.kept dd {
  margin: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
</style>
