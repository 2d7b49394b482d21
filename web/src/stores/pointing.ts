/** Somebody waits for a point in the view: the next click there is for them. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Snap } from '@noble-prism/core/measure/snap';

export interface PointWanted {
  id: string;
  /** What to click, in a sentence. */
  words: string;
  /** True where axes of holes and shafts are offered too. */
  axes: boolean;
  take(snap: Snap): void;
}

export const usePointing = defineStore('pointing', () => {
  const wanted = shallowRef<PointWanted>();

  /** Asks for a point, or for none any more. */
  function want(next?: PointWanted): void {
    wanted.value = next;
  }

  /** Hands over what was clicked. */
  function take(snap: Snap): void {
    const open = wanted.value;
    wanted.value = undefined;
    open?.take(snap);
  }

  return { wanted, want, take };
});
