/** How the view looks at the scene, and which station is open. */
import { defineStore } from 'pinia';
import { ref } from 'vue';

export type Look = 'finished' | 'plain' | 'layers' | 'density' | 'triangles';

export const LOOKS: readonly { look: Look; title: string; hint: string }[] = [
  { look: 'finished', title: 'finished', hint: 'Materials and light' },
  { look: 'plain', title: 'plain', hint: 'One grey, to judge the shape' },
  { look: 'layers', title: 'layers', hint: 'A colour for each layer' },
  { look: 'density', title: 'density', hint: 'The hues of the spectrum: where the triangles are' },
  { look: 'triangles', title: 'triangles', hint: 'Every triangle outlined' },
];

export const useLooks = defineStore('looks', () => {
  const look = ref<Look>('finished');
  const edges = ref(true);
  /** Cameras and lights as lines. */
  const optics = ref(true);
  return { look, edges, optics };
});
