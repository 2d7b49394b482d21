<script setup lang="ts">
/** Plays the movements of the scene in the view: which one, from when to when, and back to rest. */
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { asPrismError } from '@noble-prism/core/errors';
import { movingAnimations, placesAt } from '@noble-prism/core/scene/motion';
import type { AnimationKeys } from '@noble-prism/core/scene/motion';
import { formatNumber } from '@noble-prism/core/units';
import { fetchBlob } from '../api/client.ts';
import { useJob } from '../stores/job.ts';
import { usePosing } from '../stores/posing.ts';
import ChoiceField from '../parts/ChoiceField.vue';
import PlayButton from '../parts/PlayButton.vue';

const store = useJob();
const posing = usePosing();

const animations = computed(() => movingAnimations(store.scene).filter(({ keys }) => keys !== undefined));
const chosen = ref<string>();
const animation = computed(() => animations.value.find(({ id }) => id === chosen.value) ?? animations.value[0]);
const keys = shallowRef<AnimationKeys>();
const problem = ref('');
/** Seconds from the beginning; nothing at rest. */
const time = ref<number>();
const playing = ref(false);
let frame = 0;
let last = 0;
/** Something stands elsewhere than at rest. */
let posed = false;

/** Keys are fetched when they are first asked for. */
async function load(): Promise<void> {
  const wanted = animation.value?.keys;
  if (!wanted || keys.value) return;
  try {
    const bytes = await fetchBlob(wanted);
    if (animation.value?.keys === wanted) keys.value = JSON.parse(new TextDecoder().decode(bytes)) as AnimationKeys;
  } catch (error) {
    problem.value = asPrismError(error).message;
  }
}

watch(
  () => animation.value?.keys,
  () => {
    rest();
    keys.value = undefined;
  },
);
watch([time, keys, () => store.scene], () => {
  const { value } = animation;
  if (value && keys.value && time.value !== undefined) {
    posed = true;
    posing.show(placesAt(store.scene, value.id, keys.value, time.value));
  } else if (posed) {
    posed = false;
    posing.show();
  }
});
onBeforeUnmount(() => {
  cancelAnimationFrame(frame);
  posing.show();
});

function step(now: number): void {
  const { duration } = animation.value ?? { duration: 0 };
  // A slow picture must not slow the movement down.
  const next = (time.value ?? 0) + (now - last) / 1000;
  last = now;
  time.value = duration > 0 ? next % duration : 0;
  if (playing.value) frame = requestAnimationFrame(step);
}
async function toggle(): Promise<void> {
  playing.value = !playing.value;
  cancelAnimationFrame(frame);
  if (!playing.value) return;
  await load();
  last = performance.now();
  frame = requestAnimationFrame(step);
}
async function seek(to: number): Promise<void> {
  await load();
  time.value = to;
}
function rest(): void {
  playing.value = false;
  cancelAnimationFrame(frame);
  time.value = undefined;
}
</script>

<template>
  <div v-if="animation" class="play" role="group" aria-label="Movement">
    <PlayButton :playing="playing" @click="toggle" />
    <ChoiceField
      v-if="animations.length > 1"
      class="which"
      label="Movement to play"
      :model-value="animation.id"
      :choices="animations.map(({ id, name }) => ({ value: id, label: name }))"
      @update:model-value="chosen = $event"
    />
    <span v-else class="name" :title="animation.name">{{ animation.name }}</span>
    <input
      type="range"
      aria-label="Moment"
      :min="0"
      :max="animation.duration"
      :step="animation.duration / 200"
      :value="time ?? 0"
      :aria-valuetext="time === undefined ? 'at rest' : `${formatNumber(time, 3)} s`"
      @input="seek(Number(($event.target as HTMLInputElement).value))"
    />
    <output class="time">
      {{ time === undefined ? 'at rest,' : `${time.toFixed(2)} s` }}
      <span class="whole"
        >{{ time === undefined ? '' : 'of ' }}{{ animation.duration.toFixed(2) }} s{{
          time === undefined ? ' long' : ''
        }}</span
      >
    </output>
    <button v-if="time !== undefined" class="plain" title="Put everything back to rest" @click="rest">rest</button>
    <span v-if="problem" class="bad">{{ problem }}</span>
  </div>
</template>

<style scoped>
.play {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 2px 6px 0;
  font-size: 12px;
  color: var(--ink-2);
}
.which {
  max-width: 180px;
}
.name {
  max-width: 180px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
input {
  width: 160px;
}
.time {
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
</style>
