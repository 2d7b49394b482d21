/** A drag that goes on wherever the pointer goes. */

/** Hears of a drag wherever the pointer goes, until it ends. */
export function followDrag(drag: (event: PointerEvent) => void, done: (event: PointerEvent) => void): void {
  const end = (event: PointerEvent) => {
    window.removeEventListener('pointermove', drag);
    window.removeEventListener('pointerup', end);
    window.removeEventListener('pointercancel', end);
    done(event);
  };
  window.addEventListener('pointermove', drag);
  window.addEventListener('pointerup', end);
  window.addEventListener('pointercancel', end);
}
