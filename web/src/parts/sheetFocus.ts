/** The keyboard belongs to the sheet that is open: what takes the focus out of it, whoever does, gives it back. */

/** Where a sheet is open, and what floats above it belongs to it: lists of choices. */
const SHEET = '[role=dialog][aria-modal=true]';
const FLOATING = '.p-select-overlay, .p-multiselect-overlay, .p-popover, .p-menu, .p-tooltip';

/** Watches over a document. @returns what ends that */
export function keepFocusInSheets(document: Document): () => void {
  const look = () =>
    // A sheet that is being closed gives the focus back itself, and is gone by then.
    requestAnimationFrame(() => {
      const sheet = [...document.querySelectorAll<HTMLElement>(SHEET)].at(-1);
      const active = document.activeElement;
      if (!sheet || sheet.contains(active) || active?.closest(FLOATING)) return;
      (sheet.querySelector<HTMLElement>('[autofocus]') ?? sheet.querySelector<HTMLElement>('button, input'))?.focus();
    });
  document.addEventListener('focusin', look);
  return () => document.removeEventListener('focusin', look);
}
