/** How the view looks at the scene, and which station is open. */
import { defineStore } from 'pinia';
import { ref } from 'vue';

export type Look = 'finished' | 'plain' | 'layers' | 'density' | 'triangles' | 'checker';

export const LOOKS: readonly { look: Look; title: string; hint: string }[] = [
  { look: 'finished', title: 'finished', hint: 'Materials and light' },
  { look: 'plain', title: 'plain', hint: 'One grey, to judge the shape' },
  { look: 'layers', title: 'layers', hint: 'A colour for each layer' },
  { look: 'density', title: 'density', hint: 'The hues of the spectrum: where the triangles are' },
  { look: 'triangles', title: 'triangles', hint: 'Every triangle outlined' },
  { look: 'checker', title: 'checker', hint: 'How pictures lie: squares of them, coloured by their pixels a metre' },
];

export const useLooks = defineStore('looks', () => {
  const look = ref<Look>('finished');
  const edges = ref(true);
  /** Cameras and lights as lines. */
  const optics = ref(true);
  /** Set of texture coordinates that the checker shows. */
  const set = ref<0 | 1>(0);
  return { look, edges, optics, set };
});
