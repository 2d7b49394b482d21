/** What a click in the view means: a point for who waits for one, a point of a measure, a face, or a part that is selected. */
import { watch } from 'vue';
import type { ShallowRef } from 'vue';
import { useExact } from '../stores/exact.ts';
import { useFaces } from '../stores/faces.ts';
import { useJob } from '../stores/job.ts';
import { useMeasure } from '../stores/measure.ts';
import { usePointing } from '../stores/pointing.ts';
import { useSelection } from '../stores/selection.ts';
import type { View } from '../view/view.ts';

/** A press that went farther than this is a drag, pixels. */
const DRAG = 4;

export function useClicksInView(view: Readonly<ShallowRef<View | undefined>>) {
  const store = useJob();
  const selection = useSelection();
  const measure = useMeasure();
  const faces = useFaces();
  const exact = useExact();
  const pointing = usePointing();
  let press: { x: number; y: number } | undefined;
  /** Where a face was taken last: taken again when what is exact in its solid arrives, or the angle is another. */
  let taken: { x: number; y: number } | undefined;

  const at = (event: MouseEvent): [number, number] => {
    const { left, top } = (view.value as View).canvas.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top];
  };
  const isDrag = (event: MouseEvent, start: { x: number; y: number }) =>
    Math.hypot(event.clientX - start.x, event.clientY - start.y) > DRAG;

  /** A press begins; unless something else takes it. */
  function begin(event: PointerEvent): void {
    press = { x: event.clientX, y: event.clientY };
  }
  function forget(): void {
    press = undefined;
  }

  function end(event: PointerEvent): void {
    const start = press;
    // The right button is heard once more, by what opens the menu.
    if (event.button === 2) return;
    press = undefined;
    // A drag turns the model; only a click selects.
    if (!view.value || !start || event.button !== 0 || isDrag(event, start)) return;
    const [x, y] = at(event);
    const more = event.ctrlKey || event.metaKey || event.shiftKey;
    if (pointing.wanted) {
      const snap =
        view.value.pointer.axisAt(x, y, faces.angle, pointing.wanted.axes) ?? view.value.pointer.snapAt(x, y);
      if (snap) pointing.take(snap);
    } else if (measure.active) {
      const snap = view.value.pointer.snapAt(x, y);
      if (snap) measure.add(snap);
    } else if (faces.active) {
      taken = { x, y };
      faces.pick(view.value.pointer.faceAt(x, y, faces.angle), more);
    } else {
      const node = view.value.pointer.pick(x, y);
      if (node) selection.pick([node.key], more ? 'toggle' : 'set');
      else if (!more) selection.clear();
    }
  }

  /** Selects what a right click is on, where it is not selected. @returns false for a drag with that button */
  function aimMenu(event: MouseEvent): boolean {
    const start = press;
    press = undefined;
    if (start && isDrag(event, start)) return false;
    const node = start ? view.value?.pointer.pick(...at(event)) : undefined;
    if (node && !selection.deep.has(node.id)) selection.pick([node.key]);
    return true;
  }

  watch(
    () => [faces.picked, store.shown] as const,
    ([picked]) => {
      if (picked.length === 0) taken = undefined;
      view.value?.showFaces(picked);
    },
  );
  watch(
    () => [exact.arrivals, faces.angle],
    () => {
      if (!taken || faces.picked.length === 0) return;
      const again = view.value?.pointer.faceAt(taken.x, taken.y, faces.angle);
      const latest = faces.picked[faces.picked.length - 1];
      if (again && again.row === latest.row) faces.picked = [...faces.picked.slice(0, -1), again];
    },
  );

  return { begin, forget, end, aimMenu };
}
