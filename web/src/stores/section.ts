/** The section box of the view: only what is inside is drawn. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Box } from '@noble-prism/core/scene/types';

export const useSection = defineStore('section', () => {
  /** Metres in the world; none where everything is drawn. */
  const box = shallowRef<Box>();
  return { box };
});
