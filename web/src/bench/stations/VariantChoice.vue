<script setup lang="ts">
/** In which of its sets of materials a source is shown: as it comes, or in one of those that it names. */
import Select from 'primevue/select';
import { computed } from 'vue';
import type { SourceInfo } from '@noble-prism/core/scene/types';
import { useJob } from '../../stores/job.ts';
import { chooseVariant, variantChosen } from '../sourceChoices.ts';

const props = defineProps<{ info: SourceInfo }>();
const store = useJob();

/** No variant has this name: those of a file are trimmed. */
const AS_RECEIVED = ' ';
const value = computed(() => variantChosen(store.steps, props.info.id) ?? AS_RECEIVED);
const options = computed(() => [
  { value: AS_RECEIVED, label: 'as the file opens' },
  ...(props.info.variants ?? []).map((name) => ({ value: name, label: name })),
]);
</script>

<template>
  <Select
    :aria-label="`Variant of ${info.name}`"
    :model-value="value"
    :options="options"
    option-value="value"
    option-label="label"
    @update:model-value="chooseVariant(info.id, $event === AS_RECEIVED ? undefined : ($event as string))"
  />
</template>
