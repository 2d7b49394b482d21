<script setup lang="ts">
/** The line between the view without a step and the view with it: dragged, or moved with the arrows. */
import { computed } from 'vue';
import { titleOf } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';
import { followDrag } from './followDrag.ts';

const props = defineProps<{ modelValue: number }>();
const emit = defineEmits<{ 'update:modelValue': [share: number] }>();
const store = useJob();

const title = computed(() => {
  const step = store.applied.find(({ id }) => id === store.comparing);
  return step ? titleOf(step) : '';
});
const put = (share: number) => emit('update:modelValue', Math.max(0, Math.min(1, share)));

function drag(event: PointerEvent): void {
  const { left, width } = (event.currentTarget as HTMLElement).parentElement?.getBoundingClientRect() ?? {
    left: 0,
    width: 1,
  };
  followDrag(
    ({ clientX }) => put((clientX - left) / width),
    () => {},
  );
}
function key(event: KeyboardEvent): void {
  if (event.key === 'ArrowLeft') put(props.modelValue - 0.05);
  else if (event.key === 'ArrowRight') put(props.modelValue + 0.05);
  else return;
  event.preventDefault();
}
</script>

<template>
  <div
    class="wipe"
    role="slider"
    tabindex="0"
    :aria-label="`Without ${title} on the left, with it on the right`"
    aria-valuemin="0"
    aria-valuemax="100"
    :aria-valuenow="Math.round(modelValue * 100)"
    :style="{ left: `${modelValue * 100}%` }"
    @pointerdown.prevent="drag"
    @keydown="key"
  >
    <span class="before">{{ store.without ? `without ${title}` : 'computing …' }}</span>
    <span class="after">with {{ title }}</span>
  </div>
</template>

<style scoped>
.wipe {
  position: absolute;
  top: 60px;
  bottom: 0;
  width: 13px;
  margin-left: -6px;
  cursor: ew-resize;
  touch-action: none;
  background: linear-gradient(var(--ink), var(--ink)) center / 1.5px 100% no-repeat;
}
span {
  position: absolute;
  top: 45%;
  padding: 1px 6px;
  font-size: 12px;
  white-space: nowrap;
  background: var(--raised);
}
.before {
  right: 100%;
  border-right: 2px solid var(--ink);
}
.after {
  left: 100%;
  border-left: 2px solid var(--ink);
}
</style>
