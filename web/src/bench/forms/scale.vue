<script setup lang="ts">
/** Scaling by typed factors, or by dragging in the view with snapping. */
import { ref } from 'vue';
import type { SceneEditor } from '@noble-prism/core/scene/editor';
import { aboutNothing, oneFixedPoint } from '@noble-prism/core/steps/about';
import { scalingOf } from '@noble-prism/core/steps/scale';
import type { ScaleParameters } from '@noble-prism/core/steps/scale';
import { scalingHand } from '../byHand.ts';
import DragByHand from '../DragByHand.vue';
import StepForm from '../StepForm.vue';

defineProps<{ kind: string }>();
const form = ref<InstanceType<typeof StepForm>>();

function hand(edit: SceneEditor, rows: readonly number[]) {
  const parameters = form.value?.parameters as unknown as ScaleParameters;
  if (aboutNothing(parameters)) return 'Pick the point first.';
  const done = scalingOf(edit.scene, rows[0], shown() ?? { x: 1 });
  const fixed = oneFixedPoint(edit, rows, parameters, done);
  return typeof fixed === 'string' ? fixed : scalingHand(fixed);
}

const shown = () => form.value?.shown as ScaleParameters | undefined;

/** Multiplies what the view shows, along all axes alike. */
function scaled(factor: number): void {
  const { x, y, z } = { x: 1, ...shown() };
  const by = (value: number | undefined) => value && Number((value * factor).toPrecision(6));
  form.value?.setAll({ x: by(x), y: by(y), z: by(z) });
}
</script>

<template>
  <StepForm ref="form" :kind="kind">
    <DragByHand id="scale" :selector="form?.selector" :hand="hand" @done="scaled" />
  </StepForm>
</template>
