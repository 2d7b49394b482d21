/** Faces that are selected in the view, one after the other or several together. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { PickedFace } from '@noble-prism/core/measure/face';

export const useFaces = defineStore('faces', () => {
  /** True while clicks in the view take faces instead of parts. */
  const active = ref(false);
  const picked = shallowRef<readonly PickedFace[]>([]);
  /** Neighbours of one face of a mesh turn by no more, radians. */
  const angle = ref((20 * Math.PI) / 180);
  /** Colour that they are shown in while a material is tried on them; the mark of what is selected where there is none. */
  const tried = ref<string>();
  /** Square metres. */
  const area = computed(() => picked.value.reduce((sum, face) => sum + face.area, 0));

  /** @param more adds it, or takes it away where it is among them */
  function pick(face: PickedFace | undefined, more: boolean): void {
    if (!face) {
      if (!more) picked.value = [];
      return;
    }
    const rest = picked.value.filter((one) => !isSame(one, face));
    if (!more) picked.value = [face];
    else picked.value = rest.length < picked.value.length ? rest : [...rest, face];
  }

  function toggle(): void {
    active.value = !active.value;
    picked.value = [];
  }

  function stop(): void {
    tried.value = undefined;
    active.value = false;
    picked.value = [];
  }

  return { active, picked, angle, tried, area, pick, toggle, stop };
});

function isSame(a: PickedFace, b: PickedFace): boolean {
  return a.row === b.row && a.mesh === b.mesh && a.triangles[0] === b.triangles[0];
}
