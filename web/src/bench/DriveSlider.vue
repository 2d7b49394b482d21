<script setup lang="ts">
/** Drags the driver of a linkage between two values, or plays through them, with what all links come to. */
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { formatValue } from '@noble-prism/core/steps/linkFields';
import PlayButton from '../parts/PlayButton.vue';
import { useDriveLink } from './driveLink.ts';

const props = defineProps<{
  link: string | undefined;
  /** Ends of the slider, and how long it takes from one to the other, seconds. */
  from?: number | undefined;
  to?: number | undefined;
  seconds?: number;
}>();
/** Somebody let go of it there. */
const emit = defineEmits<{ set: [value: number] }>();
const drive = useDriveLink(() => props.link);

/** Without limits a hinge goes once round either way, a slide as far as half a metre. */
const ends = computed(() => {
  const { kind = 'hinge', least, greatest } = drive.driver.value?.link ?? {};
  const reach = kind === 'hinge' ? 2 * Math.PI : 0.5;
  const [low, high] = [props.from ?? least ?? -reach, props.to ?? greatest ?? reach];
  return [Math.min(low, high), Math.max(low, high)] as const;
});
const step = computed(() => {
  const [low, high] = ends.value;
  return drive.driver.value?.link.kind === 'hinge' ? Math.PI / 360 : Math.max(1e-6, (high - low) / 1000);
});
const words = (value: number) => formatValue(drive.driver.value?.link ?? { kind: 'hinge' }, value);

const playing = ref(false);
let frame = 0;
let began = 0;
function play(): void {
  playing.value = !playing.value;
  cancelAnimationFrame(frame);
  if (!playing.value) return;
  const [low, high] = [props.from ?? ends.value[0], props.to ?? ends.value[1]];
  began = performance.now();
  const go = (now: number) => {
    const share = ((now - began) / 1000 / (props.seconds ?? 4)) % 1;
    drive.to(low + (high - low) * share);
    frame = requestAnimationFrame(go);
  };
  frame = requestAnimationFrame(go);
}
function stop(): void {
  playing.value = false;
  cancelAnimationFrame(frame);
}
watch(() => props.link, stop);
onBeforeUnmount(stop);

function drag(event: Event): void {
  stop();
  drive.to(Number((event.target as HTMLInputElement).value));
}
function letGo(event: Event): void {
  drag(event);
  emit('set', drive.value.value);
}
</script>

<template>
  <div v-if="drive.driver.value" class="drive">
    <div class="slider">
      <PlayButton :playing="playing" hint="Plays from one end to the other" @click="play" />
      <input
        type="range"
        :aria-label="`Drive ${drive.driver.value.link.name}`"
        :min="ends[0]"
        :max="ends[1]"
        :step="step"
        :value="drive.value.value"
        :aria-valuetext="words(drive.value.value)"
        @input="drag"
        @change="letGo"
      />
      <output>{{ words(drive.value.value) }}</output>
    </div>
    <dl class="values" aria-label="Links">
      <template v-for="{ link: one, value } in drive.values.value" :key="one.id">
        <dt>{{ one.name }}</dt>
        <dd>{{ formatValue(one, value) }}</dd>
      </template>
      <template v-for="name in drive.still.value" :key="name">
        <dt>{{ name }}</dt>
        <dd>stands still</dd>
      </template>
    </dl>
  </div>
  <p v-for="sentence in drive.said.value" :key="sentence" class="note warn" role="status">{{ sentence }}</p>
</template>

<style scoped>
.slider {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) 64px;
  align-items: center;
  gap: 8px;
  margin-top: 8px;
}
.slider input {
  width: 100%;
}
.slider output {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.values {
  display: grid;
  grid-template-columns: minmax(0, 1fr) max-content;
  gap: 1px 12px;
  margin: 6px 0 0;
  font-size: 12px;
  color: var(--ink-2);
}
.values dd {
  margin: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.note {
  margin-top: 6px;
  font-size: 12px;
}
</style>
