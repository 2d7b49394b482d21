<script setup lang="ts">
/** Shows the view with and without a step, and as it is again. */
import type { Step } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';

defineProps<{ step: Pick<Step, 'id' | 'on'> }>();
const store = useJob();
</script>

<template>
  <button
    class="act"
    :aria-pressed="store.comparing === step.id"
    :disabled="!step.on"
    title="The view without this step on the left, with it on the right (W)"
    @click="store.compare(store.comparing === step.id ? undefined : step.id)"
  >
    Before | after
  </button>
</template>
