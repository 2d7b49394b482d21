<script setup lang="ts">
/** A material as a ball in the light of a studio; as a dot of its colour until that is drawn. */
import { computed } from 'vue';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import type { Material } from '@noble-prism/core/scene/types';
import { swatchOf } from './swatches.ts';

const props = defineProps<{
  material?: Material;
  /** Pixels across, as it stands on the page. */
  size: number;
}>();
// As fine as the screen is.
const picture = computed(
  () => props.material && swatchOf(props.material, Math.ceil(props.size * window.devicePixelRatio)),
);
const colour = computed(() => (props.material ? hexFromLinear(props.material.baseColor) : 'transparent'));
</script>

<template>
  <img v-if="picture" :src="picture" :width="size" :height="size" alt="" class="ball" />
  <i v-else class="ball dot" :style="{ width: `${size}px`, height: `${size}px`, background: colour }" />
</template>

<style scoped>
.ball {
  flex: none;
  border-radius: 50%;
}
.dot {
  display: inline-block;
  border: 1px solid var(--rule);
}
</style>
