/** Rows that are shown elsewhere than where they stand, while a movement plays or a linkage is driven. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Matrix } from '@noble-prism/core/scene/matrix';

export const usePosing = defineStore('posing', () => {
  /** Places in their parents, by row. */
  const places = shallowRef<ReadonlyMap<number, Matrix>>();

  /** Shows them there; everything where it stands, where nothing is said. */
  function show(next?: ReadonlyMap<number, Matrix>): void {
    if (next !== places.value) places.value = next;
  }

  return { places, show };
});
