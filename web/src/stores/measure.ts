/** The distance that was measured last in the view, between two points that were clicked. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Snap } from '@noble-prism/core/measure/snap';
import type { Vector } from '@noble-prism/core/scene/matrix';

export const useMeasure = defineStore('measure', () => {
  /** True while clicks in the view set points instead of selecting. */
  const active = ref(false);
  /** What was clicked: none, one or two. */
  const taken = shallowRef<readonly Snap[]>([]);
  const points = computed<Vector[]>(() => taken.value.map(({ point }) => point));
  /** From the first to the second, along the axes, metres. */
  const way = computed<Vector | undefined>(() => {
    const [a, b] = points.value;
    return a && b ? [b[0] - a[0], b[1] - a[1], b[2] - a[2]] : undefined;
  });
  const distance = computed(() => way.value && Math.hypot(...way.value));

  function toggle(): void {
    active.value = !active.value;
    taken.value = [];
  }

  /** A third point begins anew. */
  function add(snap: Snap): void {
    taken.value = taken.value.length === 2 ? [snap] : [...taken.value, snap];
  }

  function stop(): void {
    active.value = false;
    taken.value = [];
  }

  return { active, taken, points, way, distance, toggle, add, stop };
});
