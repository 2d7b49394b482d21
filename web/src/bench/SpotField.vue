<script setup lang="ts">
/** A point of a step: picked in the view, where it then goes with the part, or typed as coordinates of the job. */
import { computed, onBeforeUnmount } from 'vue';
import { snapWords } from '@noble-prism/core/measure/snap';
import type { Snap } from '@noble-prism/core/measure/snap';
import { namedPoints } from '@noble-prism/core/scene/points';
import { spotInWorld, spotOn } from '@noble-prism/core/scene/spot';
import type { Spot } from '@noble-prism/core/scene/spot';
import { factsOf } from '@noble-prism/core/scene/facts';
import { useJob } from '../stores/job.ts';
import { usePointing } from '../stores/pointing.ts';
import QuantityField from '../parts/QuantityField.vue';
import { unitOf } from '@noble-prism/core/scene/unitOf';

const props = defineProps<{
  id: string;
  label: string;
  modelValue: Spot | undefined;
  withAxis?: boolean | undefined;
}>();
const emit = defineEmits<{ 'update:modelValue': [Spot | undefined] }>();
const store = useJob();
const pointing = usePointing();

const AXES = ['x', 'y', 'z'] as const;
const unit = computed(() => unitOf(store.scene));
const there = computed(() => props.modelValue && spotInWorld(store.scene, props.modelValue));
const isAsking = computed(() => pointing.wanted?.id === props.id);
const words = computed(() => {
  const { modelValue: spot } = props;
  if (!spot) return 'nothing picked yet';
  const row = spot.on === undefined ? undefined : factsOf(store.scene).rowOf(spot.on);
  if (spot.on !== undefined && row === undefined) return 'its part is no longer there';
  const on = row === undefined ? 'typed' : `of ${store.scene.nodes.text('name', row)}`;
  return [spot.what, on].filter(Boolean).join(' ');
});

function ask(): void {
  if (isAsking.value) return pointing.want();
  pointing.want({
    id: props.id,
    words: `Click what is meant by “${props.label}”: a corner, an edge, a centre${props.withAxis ? ', a hole or a shaft' : ''}`,
    axes: props.withAxis ?? false,
    take,
  });
}

function take(snap: Snap): void {
  const what = snapWords(snap, unit.value);
  emit('update:modelValue', { ...spotOn(store.scene, snap.row, snap.point, snap.axis, snap.by), what });
}

/** They have no axis. */
const named = computed(() => (props.withAxis ? [] : namedPoints(store.scene)));
/** A named point as it is then, wherever it was moved. */
function takeNamed(row: number): void {
  emit('update:modelValue', { ...spotOn(store.scene, row, pointOf(row)), what: 'setting-out point' });
}
const pointOf = (row: number) => named.value.find((point) => point.row === row)?.at ?? [0, 0, 0];

/** A typed coordinate is one of the job: the point no longer goes with a part. */
function type(axis: number, value: number | undefined): void {
  if (value === undefined) return;
  const at = [...(there.value?.point ?? [0, 0, 0])] as [number, number, number];
  at[axis] = value;
  emit('update:modelValue', { at, ...(there.value?.axis ? { axis: there.value.axis } : {}) });
}
onBeforeUnmount(() => {
  if (isAsking.value) pointing.want();
});
</script>

<template>
  <div class="spot">
    <div class="picked">
      <span class="words" :class="modelValue && !there ? 'bad' : 'quiet'" :title="words">{{ words }}</span>
      <button
        :id="id"
        class="plain link"
        :aria-label="isAsking ? 'Cancel' : `Pick: ${label}`"
        :aria-pressed="isAsking"
        @click="ask"
      >
        {{ isAsking ? 'Cancel' : 'Pick' }}
      </button>
    </div>
    <div v-if="named.length" class="named">
      <button
        v-for="point in named"
        :key="point.row"
        class="plain link"
        :aria-label="`${label}: ${point.name}`"
        @click="takeNamed(point.row)"
      >
        {{ point.name }}
      </button>
    </div>
    <div v-for="(name, axis) in AXES" :key="name" class="coordinate">
      <label class="quiet" :for="`${id}-${name}`">{{ name }}</label>
      <QuantityField
        :id="`${id}-${name}`"
        of="length"
        :unit="unit"
        :model-value="there?.point[axis]"
        @update:model-value="type(axis, $event)"
      />
    </div>
  </div>
</template>

<style scoped>
.picked {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
  padding: 3px 2px;
}
.words {
  min-width: 0;
  overflow: hidden;
  font-size: 12px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.named {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  padding: 0 2px 2px;
  font-size: 12px;
}
.named .link {
  padding: 0;
  font-size: 12px;
}
.coordinate {
  display: grid;
  grid-template-columns: 14px minmax(0, 1fr);
  align-items: baseline;
  gap: 6px;
}
.coordinate label {
  font-size: 12px;
}
</style>
