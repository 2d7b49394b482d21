/** Rows that are to be dragged in the view: the next drag there moves, turns or scales them, and what it came to is for who asked. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Matrix, Vector } from '@noble-prism/core/scene/matrix';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Guide } from '../view/guided.ts';

export interface Dragged<T> {
  /** What it does to the world, metres. */
  matrix: Matrix;
  value: T;
  words: string;
}

export interface Hand<T> {
  /** Point that stays. */
  fixed?: Vector;
  /** @param taken where it was taken, world, metres */
  guide(taken: Vector): Guide | undefined;
  /** @param to where what was taken is to be. @param round in round steps, or along one axis. */
  follow(taken: Vector, to: Vector, round: boolean): Dragged<T>;
  /** What is said while it is asked for. */
  hint: string;
}

export interface DragWanted<T = unknown> {
  id: string;
  /** Rows that are taken, with all that is below them. */
  rows: RowSet;
  hand: Hand<T>;
  /** Hears what the drag came to; see the hand for what its value is. */
  done(value: T): void;
}

export const useDragging = defineStore('dragging', () => {
  const wanted = shallowRef<DragWanted>();

  function want<T>(next?: DragWanted<T>): void {
    wanted.value = next as DragWanted | undefined;
  }

  return { wanted, want };
});
