/** The keyboard belongs to the sheet that is open: what takes the focus out of it, whoever does, gives it back. */

/** Where a sheet is open, and what floats above it belongs to it: lists of choices. */
const SHEET = '[role=dialog][aria-modal=true]';
const FLOATING = '.p-select-overlay, .p-multiselect-overlay, .p-popover, .p-menu, .p-tooltip';

/** Watches over a document. @returns what ends that */
export function keepFocusInSheets(document: Document): () => void {
  /** The sheet that lacks the keyboard while something else has it. */
  const bereft = (at: Element | null): HTMLElement | undefined => {
    const sheet = [...document.querySelectorAll<HTMLElement>(SHEET)].at(-1);
    return sheet && !sheet.contains(at) && !at?.closest(FLOATING) ? sheet : undefined;
  };
  const enter = (sheet: HTMLElement): void =>
    (sheet.querySelector<HTMLElement>('[autofocus]') ?? sheet.querySelector<HTMLElement>('button, input'))?.focus();

  const look = () =>
    // A sheet that is being closed gives the focus back itself, and is gone by then.
    requestAnimationFrame(() => {
      const sheet = bereft(document.activeElement);
      if (sheet) enter(sheet);
    });
  // A list of choices that closes behind the sheet has the focus until the next frame, and would swallow Escape and letters until then.
  const press = (event: KeyboardEvent) => {
    const sheet = event.target instanceof Element ? bereft(event.target) : undefined;
    if (!sheet) return;
    event.stopImmediatePropagation();
    enter(sheet);
    // What the key does by itself goes to the field that has the focus now; who listens is told anew.
    const { key, code, ctrlKey, metaKey, altKey, shiftKey } = event;
    const again = new KeyboardEvent('keydown', { key, code, ctrlKey, metaKey, altKey, shiftKey, bubbles: true, cancelable: true }); // prettier-ignore
    const target = sheet.contains(document.activeElement) ? document.activeElement : sheet;
    if (target?.dispatchEvent(again) === false) event.preventDefault();
  };
  const view = document.defaultView;
  document.addEventListener('focusin', look);
  view?.addEventListener('keydown', press, true);
  return () => {
    document.removeEventListener('focusin', look);
    view?.removeEventListener('keydown', press, true);
  };
}
