/** What the pointer is at while points are taken in the view; looked for once a frame. */
import { onBeforeUnmount, shallowRef, watch } from 'vue';
import type { ShallowRef } from 'vue';
import type { Snap } from '@noble-prism/core/measure/snap';
import { useMeasure } from '../stores/measure.ts';
import { usePointing } from '../stores/pointing.ts';
import type { View } from '../view/view.ts';

export function useAim(view: Readonly<ShallowRef<View | undefined>>) {
  const measure = useMeasure();
  const pointing = usePointing();
  const isAiming = () => measure.active || pointing.wanted !== undefined;
  /** With where the pointer is, pixels from the upper left corner of the canvas. */
  const aimed = shallowRef<{ snap: Snap; x: number; y: number }>();
  let looking = 0;

  function move(event: PointerEvent): void {
    if (!isAiming() || event.buttons !== 0) return;
    cancelAnimationFrame(looking);
    looking = requestAnimationFrame(() => {
      if (!view.value) return;
      const { left, top } = view.value.canvas.getBoundingClientRect();
      const [x, y] = [event.clientX - left, event.clientY - top];
      const snap = view.value.pointer.snapAt(x, y, pointing.wanted?.axes);
      aimed.value = snap && { snap, x, y };
    });
  }
  function end(): void {
    cancelAnimationFrame(looking);
    aimed.value = undefined;
    view.value?.pointer.endSnap();
  }
  watch(isAiming, (on) => {
    if (!on) end();
  });
  onBeforeUnmount(() => cancelAnimationFrame(looking));
  return { aimed, move, end };
}
