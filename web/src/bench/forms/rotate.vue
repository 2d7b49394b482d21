<script setup lang="ts">
/** Turning by a typed angle, or by dragging in the view with snapping. */
import { ref } from 'vue';
import type { SceneEditor } from '@noble-prism/core/scene/editor';
import { rotationAbout } from '@noble-prism/core/scene/rotation';
import { oneFixedPoint } from '@noble-prism/core/steps/about';
import { aboutOf, axisOf } from '@noble-prism/core/steps/rotate';
import type { RotateParameters } from '@noble-prism/core/steps/rotate';
import { turningHand } from '../byHand.ts';
import DragByHand from '../DragByHand.vue';
import StepForm from '../StepForm.vue';

defineProps<{ kind: string }>();
const form = ref<InstanceType<typeof StepForm>>();

function hand(edit: SceneEditor, rows: readonly number[]) {
  const parameters = form.value?.parameters as unknown as RotateParameters;
  if (parameters.axis.startsWith('own-') && rows.length > 1)
    return 'Each of several rows has axes of its own: choose an axis of the world, or pick one.';
  if (parameters.axis === 'picked' && !parameters.spot?.axis) return 'Pick the axis first.';
  const axis = axisOf(edit.scene, rows[0], parameters);
  if (!axis) return 'The axis was picked on what is no longer there.';
  const done = rotationAbout(axis, shown()?.angle ?? 0);
  const fixed = oneFixedPoint(edit, rows, aboutOf(parameters), done);
  return typeof fixed === 'string' ? fixed : turningHand(fixed, axis);
}

const shown = () => form.value?.shown as RotateParameters | undefined;

/** Adds to what the view shows; to a thousandth of a degree, which is finer than a hand. */
function turned(angle: number): void {
  const step = Math.PI / 180_000;
  form.value?.setAll({ angle: Math.round(((shown()?.angle ?? 0) + angle) / step) * step });
}
</script>

<template>
  <StepForm ref="form" :kind="kind">
    <DragByHand id="rotate" :selector="form?.selector" :hand="hand" @done="turned" />
  </StepForm>
</template>
