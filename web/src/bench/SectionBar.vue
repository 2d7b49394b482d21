<script setup lang="ts">
/** The section box in figures: typed, laid around the selection, or dragged in the view. */
import { computed } from 'vue';
import { worldBox } from '@noble-prism/core/scene/tree';
import type { Box } from '@noble-prism/core/scene/types';
import { useJob } from '../stores/job.ts';
import { useSection } from '../stores/section.ts';
import { useSelection } from '../stores/selection.ts';
import QuantityField from '../parts/QuantityField.vue';
import { withFace } from '../view/sectionBox.ts';
import { unitOf } from '@noble-prism/core/scene/unitOf';

const props = defineProps<{
  box: Box;
  boxOfAll?(): Box | undefined;
  positionsOf?: (mesh: string) => Float32Array | undefined;
}>();
const store = useJob();
const section = useSection();
const selection = useSelection();

const unit = computed(() => unitOf(store.scene));
const AXES = ['x', 'y', 'z'] as const;
const ENDS = ['min', 'max'] as const;

function aroundSelection(): void {
  section.box = worldBox(store.scene, selection.parts, props.positionsOf) ?? section.box;
}
</script>

<template>
  <div class="section" role="group" aria-label="Section box">
    <span v-for="(name, axis) in AXES" :key="name" class="axis">
      <span class="quiet">{{ name }}</span>
      <template v-for="end in ENDS" :key="end">
        <span v-if="end === 'max'" class="quiet">to</span>
        <QuantityField
          :id="`section-${name}-${end}`"
          class="figure"
          of="length"
          :unit="unit"
          :label="`${name} ${end === 'min' ? 'from' : 'to'}`"
          :model-value="box[end][axis]"
          :min="end === 'max' ? box.min[axis] : undefined"
          :max="end === 'min' ? box.max[axis] : undefined"
          @update:model-value="
            $event !== undefined && (section.box = withFace(box, { axis: axis as 0 | 1 | 2, end }, $event))
          "
        />
      </template>
    </span>
    <button class="plain link" :disabled="selection.parts.size === 0" @click="aroundSelection">
      around the selection
    </button>
    <button class="plain link" @click="section.box = boxOfAll?.() ?? section.box">around everything</button>
  </div>
</template>

<style scoped>
.section {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 10px;
  padding: 2px 4px;
  font-size: 12px;
}
.axis {
  display: inline-flex;
  align-items: baseline;
  gap: 4px;
}
.figure {
  width: 66px;
}
.link {
  color: var(--iris);
  font-size: 12px;
}
.link:disabled {
  color: var(--ink-2);
}
</style>
