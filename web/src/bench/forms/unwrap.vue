<script setup lang="ts">
/** Unwrapping, with how pictures lie on what it concerns. */
import { computed, ref } from 'vue';
import type { UnwrapParameters } from '@noble-prism/core/steps/unwrap';
import UvFigures from '../finishes/UvFigures.vue';
import StepForm from '../StepForm.vue';

const form = ref<InstanceType<typeof StepForm>>();
const set = computed(() => ((form.value?.parameters as UnwrapParameters | undefined)?.set === 'first' ? 0 : 1));
</script>

<template>
  <StepForm ref="form" kind="unwrap" />
  <UvFigures v-if="form" :of="form.selector" :set="set" />
</template>
