<script setup lang="ts">
/** Turning whole sources: how each stands, and the form. */
import { computed } from 'vue';
import { useJob } from '../../stores/job.ts';
import EmptyState from '../../parts/EmptyState.vue';
import FactList from '../../parts/FactList.vue';
import StepForm from '../StepForm.vue';

defineProps<{ kind: string }>();
const store = useJob();
const ups = computed(() =>
  store.scene.sources.map(({ name, up, upAxis }) => ({
    name,
    value: `${up} up`,
    ...(up === upAxis.axis ? { note: 'as received' } : { note: `was ${upAxis.axis}` }),
  })),
);
</script>

<template>
  <EmptyState v-if="!ups.length">No source yet. Drop one at Receive.</EmptyState>
  <FactList v-else class="ups" :facts="ups" />
  <StepForm :kind="kind" />
</template>

<style scoped>
.ups {
  margin-bottom: 8px;
}
</style>
