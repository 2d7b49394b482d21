/** What is being measured in the view, by points that are clicked: a distance, an angle, or the radius of a circle. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { angleAt, radiusThrough } from '@noble-prism/core/measure/kept';
import type { Measured, MeasureOf } from '@noble-prism/core/measure/kept';
import { onCircle } from '@noble-prism/core/measure/snap';
import type { Snap } from '@noble-prism/core/measure/snap';
import type { Vector } from '@noble-prism/core/scene/matrix';

/** What can be measured by clicks, and by how many points. */
export const BY_POINTS = { distance: 2, angle: 3, radius: 3 } as const satisfies Partial<Record<MeasureOf, number>>;
export type ByPoints = keyof typeof BY_POINTS;

export const useMeasure = defineStore('measure', () => {
  /** True while clicks in the view set points instead of selecting. */
  const active = ref(false);
  const of = ref<ByPoints>('distance');
  /** What was clicked: none, or as many as it takes at most. */
  const taken = shallowRef<readonly Snap[]>([]);
  const points = computed<Vector[]>(() => taken.value.map(({ point }) => point));
  const isWhole = computed(() => taken.value.length === BY_POINTS[of.value]);
  /** From the first to the second, along the axes, metres. */
  const way = computed<Vector | undefined>(() => {
    const [a, b] = points.value;
    return of.value === 'distance' && a && b ? [b[0] - a[0], b[1] - a[1], b[2] - a[2]] : undefined;
  });
  const distance = computed(() => way.value && Math.hypot(...way.value));
  /** What the points come to; nothing while some are missing, or where they have no such measure. */
  const measured = computed<Measured | undefined>(() => {
    if (!isWhole.value) return undefined;
    const [a, b, c] = points.value;
    const base = { name: '', of: of.value, points: points.value };
    if (way.value) return { ...base, value: Math.hypot(...way.value), along: way.value };
    const value = of.value === 'angle' ? angleAt(a, b, c) : radiusThrough(a, b, c);
    return value === undefined ? undefined : { ...base, value };
  });

  function toggle(): void {
    active.value = !active.value;
    taken.value = [];
  }

  function choose(next: ByPoints): void {
    of.value = next;
    taken.value = [];
  }

  /** One more than it takes begins anew. A circle that is clicked gives its radius at once. */
  function add(snap: Snap): void {
    const before = isWhole.value ? [] : taken.value;
    const circle = of.value === 'radius' && before.length === 0 ? onCircle(snap) : undefined;
    taken.value = circle ? circle.map((point) => ({ ...snap, point })) : [...before, snap];
  }

  function stop(): void {
    active.value = false;
    taken.value = [];
  }

  return { active, of, taken, points, isWhole, way, distance, measured, toggle, choose, add, stop };
});
