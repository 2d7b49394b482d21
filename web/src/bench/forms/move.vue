<script setup lang="ts">
/** Moving by typed lengths, or by dragging in the view with snapping. */
import { ref } from 'vue';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { MoveParameters } from '@noble-prism/core/steps/move';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { useJob } from '../../stores/job.ts';
import { movingHand } from '../byHand.ts';
import DragByHand from '../DragByHand.vue';
import StepForm from '../StepForm.vue';

defineProps<{ kind: string }>();
const store = useJob();
const form = ref<InstanceType<typeof StepForm>>();

/** Adds to what the view shows. */
function moved(way: Vector): void {
  const { x = 0, y = 0, z = 0 } = (form.value?.shown ?? {}) as Partial<MoveParameters>;
  // Lengths are told to a thousandth of a millimetre: what is dragged by hand is no finer.
  const sum = [x + way[0], y + way[1], z + way[2]].map((value) => Math.round(value * 1e6) / 1e6);
  form.value?.setAll({ x: sum[0], y: sum[1], z: sum[2], along: undefined });
}
</script>

<template>
  <StepForm ref="form" :kind="kind">
    <DragByHand id="move" :selector="form?.selector" :hand="() => movingHand(unitOf(store.scene))" @done="moved" />
  </StepForm>
</template>
