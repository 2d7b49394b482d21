/**
 * Dragging parts in the view: taken at a point of theirs, put where the pointer is, on a corner or an edge of others where it is near one.
 * What that does to them, a hand says: see `byHand.ts`.
 */
import { shallowRef, watch } from 'vue';
import type { ShallowRef } from 'vue';
import { snapWords } from '@noble-prism/core/measure/snap';
import { IDENTITY, isIdentity } from '@noble-prism/core/scene/matrix';
import { useDragging } from '../stores/dragging.ts';
import type { Dragged } from '../stores/dragging.ts';
import { useJob } from '../stores/job.ts';
import type { View } from '../view/view.ts';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { followDrag } from './followDrag.ts';

export function useDragRows(view: Readonly<ShallowRef<View | undefined>>) {
  const dragging = useDragging();
  const store = useJob();
  /** How far it has gone, and on what; pixels of the canvas. */
  const dragged = shallowRef<{ x: number; y: number; words: string }>();

  // What may be dragged is drawn by itself from then on, so that a drag only moves what is drawn.
  watch(
    () => dragging.wanted,
    (wanted) => view.value?.hold(wanted?.rows),
  );

  /** Begins a drag where a part that may be dragged is under the pointer. */
  function take(event: PointerEvent): boolean {
    const { value } = view;
    const { wanted } = dragging;
    if (!value || !wanted) return false;
    const { left, top } = value.canvas.getBoundingClientRect();
    const at = ({ clientX, clientY }: PointerEvent): [number, number] => [clientX - left, clientY - top];
    const start = value.heldAt(...at(event));
    if (!start) return false;
    value.eye.controls.enabled = false;
    const { hand } = wanted;
    let result: Dragged<unknown> | undefined;
    let latest: PointerEvent | undefined;
    const follow = () => {
      if (!latest) return;
      const [x, y] = at(latest);
      const { point, snap } = value.pointer.targetAt(x, y, start, hand.guide(start), hand.fixed);
      result = hand.follow(start, point, latest.shiftKey);
      latest = undefined;
      value.shiftHeld(result.matrix);
      const words = [result.words, ...(snap ? [snapWords(snap, unitOf(store.scene))] : [])];
      dragged.value = { x, y, words: words.join('\n') };
    };
    followDrag(
      (moved) => {
        // Once for each frame, however often the pointer is heard of.
        if (!latest) value.beforeFrame(follow);
        latest = moved;
      },
      (last) => {
        follow();
        value.eye.controls.enabled = true;
        dragged.value = undefined;
        value.pointer.endSnap();
        if (last.type === 'pointercancel' || !result || isIdentity(result.matrix, 0)) return value.shiftHeld(IDENTITY);
        wanted.done(result.value);
      },
    );
    return true;
  }

  return { dragged, take };
}
