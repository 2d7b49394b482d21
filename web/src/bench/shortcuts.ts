/** Which shortcut a key press is, if any: never while somebody types, and never what the control in focus needs itself. */

/** `undo`, `redo` and `finder` are ids of actions; other keys are those that actions say. */
export type Shortcut = 'undo' | 'redo' | 'finder' | { key: string };

/** Fields in which letters are text. */
const TEXT = 'input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, [contenteditable]';
/** Keys that a closed list of choices needs: to open, and to move on. */
const OF_A_LIST = new Set(['enter', ' ', 'arrowdown', 'arrowup', 'home', 'end', 'tab', 'escape']);

type Press = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey' | 'target'>;

export function shortcutOf({ key, ctrlKey, metaKey, altKey, shiftKey, target }: Press): Shortcut | undefined {
  const at = target instanceof Element ? target : undefined;
  // The finder can be had from anywhere but a dialog, also while somebody types.
  if ((ctrlKey || metaKey) && !altKey && !shiftKey && key.toLowerCase() === 'k' && !at?.closest('.p-dialog'))
    return 'finder';
  // A dialog, a menu and an open list have the keys to themselves.
  if (at?.closest(`${TEXT}, .p-dialog, .p-select-overlay, .p-multiselect-overlay, [aria-expanded=true][role=combobox]`))
    return undefined;
  const name = key.toLowerCase();
  if (ctrlKey || metaKey) {
    if (altKey) return undefined;
    if (name === 'z') return shiftKey ? 'redo' : 'undo';
    return name === 'y' && !shiftKey ? 'redo' : undefined;
  }
  if (altKey || (at?.closest('.p-select, .p-multiselect') && OF_A_LIST.has(name))) return undefined;
  return { key: name };
}
