/** Rules dragged to another place in the schedule, by a grip in each line. */
import { ref } from 'vue';
import { followDrag } from '../followDrag.ts';

/** Drags a line of a table; `drop` gets the place that it left and the one that it goes to. */
export function useRuleDrag(drop: (from: number, to: number) => void) {
  /** Line that is dragged, and the one that the pointer is at. */
  const dragged = ref<number>();
  const over = ref<number>();

  function begin(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.preventDefault();
    dragged.value = over.value = index;
    const cancel = (pressed: KeyboardEvent) => {
      if (pressed.key !== 'Escape') return;
      pressed.stopPropagation();
      dragged.value = undefined;
    };
    window.addEventListener('keydown', cancel, { capture: true });
    followDrag(
      ({ clientX, clientY }) => {
        const line = document.elementFromPoint(clientX, clientY)?.closest('[aria-rowindex]');
        // The heads of the columns are the first row.
        if (line) over.value = Number(line.getAttribute('aria-rowindex')) - 2;
      },
      () => {
        window.removeEventListener('keydown', cancel, { capture: true });
        if (dragged.value !== undefined && over.value !== undefined && over.value !== index) drop(index, over.value);
        dragged.value = over.value = undefined;
      },
    );
  }
  return { dragged, over, begin };
}
