<script setup lang="ts">
/** Moving by typed lengths, or by dragging in the view with snapping. */
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { select } from '@noble-prism/core/select/select';
import type { MoveParameters } from '@noble-prism/core/steps/move';
import { withDescendants } from '@noble-prism/core/scene/tree';
import { useDragging } from '../../stores/dragging.ts';
import { useJob } from '../../stores/job.ts';
import StepForm from '../StepForm.vue';

defineProps<{ kind: string }>();
const store = useJob();
const dragging = useDragging();
const form = ref<InstanceType<typeof StepForm>>();

const isDragging = computed(() => dragging.wanted?.id === 'move');
const rows = computed(() => {
  const selector = form.value?.selector;
  return selector && withDescendants(store.scene, select(store.scene, selector, true));
});

function toggle(): void {
  if (isDragging.value || !rows.value || rows.value.size === 0) return dragging.want();
  dragging.want({
    id: 'move',
    rows: rows.value,
    moved(way) {
      const { x = 0, y = 0, z = 0 } = (form.value?.parameters ?? {}) as Partial<MoveParameters>;
      // Lengths are told to a thousandth of a millimetre: what is dragged by hand is no finer.
      const sum = [x + way[0], y + way[1], z + way[2]].map((value) => Math.round(value * 1e6) / 1e6);
      form.value?.setAll({ x: sum[0], y: sum[1], z: sum[2], along: undefined });
    },
  });
}
// Other rows are others to be drawn by themselves.
watch(
  () => JSON.stringify(form.value?.selector),
  () => isDragging.value && dragging.want(),
);
onBeforeUnmount(() => {
  if (isDragging.value) dragging.want();
});
</script>

<template>
  <StepForm ref="form" :kind="kind">
    <button class="plain link drag" :aria-pressed="isDragging" :disabled="!rows?.size" @click="toggle">
      {{ isDragging ? 'Stop dragging' : 'Drag in the view' }}
    </button>
    <p v-if="isDragging" class="quiet hint">
      Take the part at a corner, an edge or a face, and put that on another. Shift keeps to one axis.
    </p>
  </StepForm>
</template>

<style scoped>
.drag {
  padding: 6px 2px 2px;
  font-size: 12px;
}
.hint {
  font-size: 12px;
}
</style>
