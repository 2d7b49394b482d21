/** The section box in the view: laid and taken away, and its faces dragged along their axes. */
import { Vector3 } from 'three';
import { watch } from 'vue';
import type { ShallowRef } from 'vue';
import { worldBox } from '@noble-prism/core/scene/tree';
import { useJob } from '../stores/job.ts';
import { useSection } from '../stores/section.ts';
import { useSelection } from '../stores/selection.ts';
import { middleOf, withFace } from '../view/sectionBox.ts';
import type { View } from '../view/view.ts';
import { followDrag } from './followDrag.ts';

export function useSectionInView(view: Readonly<ShallowRef<View | undefined>>) {
  const store = useJob();
  const selection = useSelection();
  const section = useSection();

  /** Around what is selected, or everything; a second time it is taken away. */
  function toggle(): void {
    const all = view.value?.boxOfAll();
    if (section.box) section.box = undefined;
    else if (selection.parts.size > 0)
      section.box = worldBox(store.scene, selection.parts, view.value?.geometry.positionsOf) ?? all;
    else section.box = all;
  }

  /** Takes the face whose handle is under the pointer, if there is one; the camera stays meanwhile. */
  function take(event: PointerEvent): boolean {
    const { value } = view;
    const { box } = section;
    if (!value || !box) return false;
    const { left, top } = value.canvas.getBoundingClientRect();
    const face = value.sectionFaceAt(event.clientX - left, event.clientY - top);
    if (!face) return false;
    value.eye.controls.enabled = false;
    const from = new Vector3(...middleOf(box, face));
    const axis = new Vector3().setComponent(face.axis, 1);
    const drag = ({ clientX, clientY }: PointerEvent) => {
      const by = value.eye.alongAxis(from, axis, clientX - event.clientX, clientY - event.clientY);
      section.box = withFace(box, face, box[face.end][face.axis] + by);
    };
    followDrag(drag, () => (value.eye.controls.enabled = true));
    return true;
  }

  watch(
    () => section.box,
    (box) => view.value?.setSection(box),
  );
  return { toggle, take };
}
