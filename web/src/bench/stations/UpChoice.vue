<script setup lang="ts">
/** Which axis of a source is up: as the file or the trade has it, or as somebody says who sees it lie on its back. */
import Select from 'primevue/select';
import { computed } from 'vue';
import type { SourceInfo } from '@noble-prism/core/scene/types';
import { UP_AXES } from '@noble-prism/core/steps/up';
import type { UpAxis } from '@noble-prism/core/steps/up';
import { useJob } from '../../stores/job.ts';
import { chooseUp, upChosen } from '../sourceChoices.ts';

const props = defineProps<{ info: SourceInfo }>();
const store = useJob();

const AS_RECEIVED = 'received';
const value = computed(() => upChosen(store.steps, props.info.id) ?? AS_RECEIVED);
const options = computed(() => {
  const { axis, by } = props.info.upAxis;
  return [
    { value: AS_RECEIVED, label: `${axis}, ${by === 'file' ? 'as declared' : 'by convention, not in the file'}` },
    ...UP_AXES.filter((other) => other !== axis).map((other) => ({
      value: other,
      label: other.startsWith('-') ? `${other.slice(1)} points down` : other,
    })),
  ];
});
</script>

<template>
  <Select
    :aria-label="`Up axis of ${info.name}`"
    :model-value="value"
    :options="options"
    option-value="value"
    option-label="label"
    @update:model-value="chooseUp(info.id, $event === AS_RECEIVED ? undefined : ($event as UpAxis))"
  />
</template>
