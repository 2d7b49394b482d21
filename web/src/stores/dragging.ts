/** Rows that are to be dragged in the view: the next drag there moves them, and what it came to is for who asked. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { RowSet } from '@noble-prism/core/scene/rowSet';

export interface DragWanted {
  id: string;
  /** Rows that move, with all that is below them. */
  rows: RowSet;
  /** Hears how far they were dragged, world, metres. */
  moved(way: Vector): void;
}

export const useDragging = defineStore('dragging', () => {
  const wanted = shallowRef<DragWanted>();

  function want(next?: DragWanted): void {
    wanted.value = next;
  }

  return { wanted, want };
});
