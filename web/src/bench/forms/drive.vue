<script setup lang="ts">
/** Driving a linkage: which link, dragged or typed; the position is kept as a step. */
import { computed, ref } from 'vue';
import { linkCalled, linksOf } from '@noble-prism/core/linkage/links';
import { useJob } from '../../stores/job.ts';
import DriveSlider from '../DriveSlider.vue';
import StepForm from '../StepForm.vue';

const store = useJob();
const form = ref<InstanceType<typeof StepForm>>();
const called = computed(() => form.value?.parameters.link as string | undefined);
const link = computed(() => (called.value ? linkCalled(linksOf(store.scene), called.value) : undefined));
/** Only what the link can do is asked for. */
const hides = computed(() => (link.value ? [link.value.kind === 'hinge' ? 'shift' : 'turn'] : ['turn', 'shift']));

function set(value: number): void {
  if (link.value) form.value?.setAll({ [link.value.kind === 'hinge' ? 'turn' : 'shift']: value });
}
</script>

<template>
  <StepForm ref="form" kind="drive" :hides="hides">
    <DriveSlider :link="called" @set="set" />
  </StepForm>
</template>
