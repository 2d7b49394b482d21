/** Drawing a rectangle in the view, which selects parts: to the right those wholly inside, to the left also those that it touches. */
import { ref, shallowRef } from 'vue';
import type { ShallowRef } from 'vue';
import { useSelection } from '../stores/selection.ts';
import type { Rectangle } from '../view/rectangle.ts';
import type { View } from '../view/view.ts';
import { followDrag } from './followDrag.ts';

/** As small as this, in pixels, it is a click. */
const CLICK = 4;

export function useRectangle(view: Readonly<ShallowRef<View | undefined>>) {
  const selection = useSelection();
  /** True where the next drag draws, as one with Shift does. */
  const isNext = ref(false);
  const rectangle = shallowRef<Rectangle & { how: 'inside' | 'touched' }>();

  /** @param begun told once it is no click any more */
  function begin(event: PointerEvent, begun: () => void): void {
    const { value } = view;
    if (!value) return;
    isNext.value = false;
    value.eye.controls.enabled = false;
    const { left, top } = value.canvas.getBoundingClientRect();
    const [x, y] = [event.clientX - left, event.clientY - top];
    const drag = ({ clientX, clientY }: PointerEvent) => {
      const [u, v] = [clientX - left, clientY - top];
      if (!rectangle.value && Math.hypot(u - x, v - y) <= CLICK) return;
      begun();
      const sides = { left: Math.min(x, u), right: Math.max(x, u), top: Math.min(y, v), bottom: Math.max(y, v) };
      rectangle.value = { ...sides, how: u >= x ? 'inside' : 'touched' };
    };
    followDrag(drag, (last) => {
      value.eye.controls.enabled = true;
      const drawn = rectangle.value;
      rectangle.value = undefined;
      if (!drawn || last.type === 'pointercancel') return;
      selection.pick(value.partsWithin(drawn, drawn.how), last.ctrlKey || last.metaKey ? 'add' : 'set');
    });
  }
  return { isNext, rectangle, begin };
}
