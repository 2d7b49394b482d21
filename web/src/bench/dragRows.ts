/**
 * Dragging parts in the view: taken at a point of theirs, put where the pointer is, on a corner or an edge of others where it is near one.
 * With Shift they go along the axis of the world that they have gone farthest along.
 */
import { shallowRef, watch } from 'vue';
import type { ShallowRef } from 'vue';
import { snapWords } from '@noble-prism/core/measure/snap';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { formatNumber, metresPer } from '@noble-prism/core/units';
import { useDragging } from '../stores/dragging.ts';
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
    let way: Vector = [0, 0, 0];
    let latest: PointerEvent | undefined;
    const follow = () => {
      if (!latest) return;
      const [x, y] = at(latest);
      const { point, snap } = value.pointer.targetAt(x, y, start);
      const free: Vector = [point[0] - start[0], point[1] - start[1], point[2] - start[2]];
      way = latest.shiftKey ? alongOne(free) : free;
      latest = undefined;
      value.shiftHeld(way);
      const words = [lengths(way), ...(snap ? [snapWords(snap, unitOf(store.scene))] : [])];
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
        if (last.type === 'pointercancel' || way.every((one) => one === 0)) return value.shiftHeld([0, 0, 0]);
        wanted.moved(way);
      },
    );
    return true;
  }

  function lengths(way: Vector): string {
    const unit = unitOf(store.scene);
    return `x, y, z: ${way.map((one) => formatNumber(one / (metresPer(unit) ?? 1), 4)).join(', ')} ${unit}`;
  }

  return { dragged, take };
}

function alongOne(way: Vector): Vector {
  const most = Math.max(...way.map(Math.abs));
  const axis = way.findIndex((one) => Math.abs(one) === most);
  return [axis === 0 ? way[0] : 0, axis === 1 ? way[1] : 0, axis === 2 ? way[2] : 0];
}
