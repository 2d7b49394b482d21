<script setup lang="ts">
/** Texture coordinates by projection, with how pictures lie on what it concerns. */
import { ref } from 'vue';
import UvFigures from '../finishes/UvFigures.vue';
import StepForm from '../StepForm.vue';

const form = ref<InstanceType<typeof StepForm>>();
</script>

<template>
  <StepForm ref="form" kind="uv" />
  <UvFigures v-if="form" :of="form.selector" :set="0" />
</template>
