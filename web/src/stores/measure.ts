/** The distance that was measured last in the view, between two points that were clicked. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';

export type Point = readonly [number, number, number];

export const useMeasure = defineStore('measure', () => {
  /** True while clicks in the view set points instead of selecting. */
  const active = ref(false);
  /** None, one or two, metres. */
  const points = shallowRef<Point[]>([]);
  const distance = computed(() => {
    const [a, b] = points.value;
    return a && b ? Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) : undefined;
  });

  function toggle(): void {
    active.value = !active.value;
    points.value = [];
  }

  /** A third point begins anew. */
  function add(point: Point): void {
    points.value = points.value.length === 2 ? [point] : [...points.value, point];
  }

  function stop(): void {
    active.value = false;
    points.value = [];
  }

  return { active, points, distance, toggle, add, stop };
});
