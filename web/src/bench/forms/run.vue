<script setup lang="ts">
/** A run of a linkage: from where to where, in which time; tried in the view before its keys are made. */
import { computed, ref } from 'vue';
import { linkCalled, linksOf } from '@noble-prism/core/linkage/links';
import type { RunParameters } from '@noble-prism/core/steps/run';
import { useJob } from '../../stores/job.ts';
import DriveSlider from '../DriveSlider.vue';
import StepForm from '../StepForm.vue';

const store = useJob();
const form = ref<InstanceType<typeof StepForm>>();
const given = computed(() => (form.value?.parameters ?? {}) as Partial<RunParameters>);
const link = computed(() => (given.value.link ? linkCalled(linksOf(store.scene), given.value.link) : undefined));
const TURNS = ['turnFrom', 'turnTo'];
const SHIFTS = ['shiftFrom', 'shiftTo'];
const hides = computed(() => (!link.value ? [...TURNS, ...SHIFTS] : link.value.kind === 'hinge' ? SHIFTS : TURNS));
const range = computed(() => {
  const { turnFrom = 0, turnTo = 0, shiftFrom = 0, shiftTo = 0 } = given.value;
  return link.value?.kind === 'hinge' ? [turnFrom, turnTo] : [shiftFrom, shiftTo];
});
</script>

<template>
  <StepForm ref="form" kind="run" :hides="hides">
    <DriveSlider
      v-if="range[0] !== range[1]"
      :link="given.link"
      :from="range[0]"
      :to="range[1]"
      :seconds="given.seconds ?? 4"
    />
  </StepForm>
</template>
