/** Rows dragged within the ledger: what is selected is hung under the row that it is dropped on, or under none below the last row. */
import { shallowRef } from 'vue';
import { isAtOrAbove } from '@noble-prism/core/scene/rehang';
import { counted } from '@noble-prism/core/units';
import { useSelection } from '../stores/selection.ts';
import { followDrag } from './followDrag.ts';
import type { LedgerTree, Row } from './rows.ts';
import { changeSteps } from './stepEdits.ts';

export interface LedgerDrag {
  /** Where the words about it stand, pixels of the window. */
  x: number;
  y: number;
  words: string;
  /** Shown row that it would be hung under; none for the top level. */
  target?: number;
  isAllowed: boolean;
}

/** So far the pointer goes before a press is a drag, pixels. */
const BEGINS = 6;
/** So near an edge the list goes on by itself, pixels. */
const EDGE = 28;

export function useLedgerDrag(ledger: {
  tree(): LedgerTree;
  rowAt(index: number): Row | undefined;
  scroller(): HTMLElement | undefined;
  /** Selects a row that is dragged and was not selected. */
  take(index: number): void;
  /** Opens the row that something was dropped on. */
  open(row: Row): void;
}) {
  const selection = useSelection();
  const drag = shallowRef<LedgerDrag>();
  /** The click that ends a drag is none. */
  let ended = 0;

  function begin(event: PointerEvent, index: number): void {
    if (event.button !== 0 || event.pointerType === 'touch') return;
    const start = { x: event.clientX, y: event.clientY };
    const cancel = (pressed: KeyboardEvent) => {
      if (pressed.key !== 'Escape' || !drag.value) return;
      pressed.stopPropagation();
      isCancelled = true;
      drag.value = undefined;
    };
    let isCancelled = false;
    window.addEventListener('keydown', cancel, { capture: true });
    followDrag(
      (moved) => {
        if (isCancelled) return;
        if (!drag.value && Math.hypot(moved.clientX - start.x, moved.clientY - start.y) < BEGINS) return;
        if (!drag.value) ledger.take(index);
        drag.value = over(moved);
      },
      () => {
        window.removeEventListener('keydown', cancel, { capture: true });
        if (!drag.value) return;
        ended = performance.now();
        drop(drag.value);
        drag.value = undefined;
      },
    );
  }

  function over({ clientX: x, clientY: y }: PointerEvent): LedgerDrag {
    const scroller = ledger.scroller();
    const box = scroller?.getBoundingClientRect();
    if (scroller && box) {
      if (y < box.top + 26 + EDGE) scroller.scrollTop -= 12;
      else if (y > box.bottom - EDGE) scroller.scrollTop += 12;
    }
    const here = { x, y };
    const line = document.elementFromPoint(x, y)?.closest('[id^=row-]');
    if (!line) {
      const isInside = box && x >= box.left && x <= box.right && y >= box.top && y <= box.bottom;
      return isInside
        ? { ...here, words: `${what()} to the top level`, isAllowed: true }
        : { ...here, words: 'drop on a row, or below the last one', isAllowed: false };
    }
    const target = Number(line.id.slice(4));
    const row = ledger.rowAt(target);
    if (!row) return { ...here, words: '', isAllowed: false };
    const { facts } = ledger.tree();
    const { name } = row.node;
    if (row.gathered) return { ...here, target, words: `${name} stands for ${row.rows.length}: open it, and choose one`, isAllowed: false }; // prettier-ignore
    if (selection.ids.some((id) => isAtOrAbove(facts, id, row.node.id)))
      return { ...here, target, words: `${name} belongs to what is dragged`, isAllowed: false };
    return { ...here, target, words: `${what()} under ${name}`, isAllowed: true };
  }

  const what = () => (selection.nodes.length === 1 ? selection.nodes[0].name : counted(selection.nodes.length, 'row'));

  function drop({ target, isAllowed }: LedgerDrag): void {
    if (!isAllowed) return;
    const row = target === undefined ? undefined : ledger.rowAt(target);
    const to = row ? { to: row.node.key } : {};
    // What hangs there already stays as it is.
    const parent = row ? row.node.id : null;
    const keys = selection.nodes.filter((node) => node.parent !== parent).map(({ key }) => key);
    if (keys.length === 0) return;
    if (row) ledger.open(row);
    changeSteps.add('attach', { by: 'picked', keys }, to);
  }

  return { drag, begin, hasJustEnded: () => performance.now() - ended < 50 };
}
