/**
 * Sources of a job: each is a slot with a name of its own, and shows one of its revisions. What steps, rules and keys say of a source
 * they say of the slot, so that it holds for the next revision too.
 */
import { hashData } from '../scene/hash.ts';
import { mergeScenes } from '../scene/merge.ts';
import { inSlot } from '../scene/slot.ts';
import type { Hash, Scene } from '../scene/types.ts';

/** A slot, and the stored scene of the revision that it shows. */
export interface Shown {
  slot: string;
  scene: Hash;
}

/** Name of what several slots show together. */
export function keyOfSlots(shown: readonly Shown[]): Hash {
  return hashData(shown.map(({ slot, scene }) => [slot, scene]));
}

/** The scenes of several slots as one. */
export function mergeSlots(scenes: readonly { slot: string; scene: Scene }[]): Scene {
  return mergeScenes(scenes.map(({ slot, scene }) => inSlot(scene, slot)));
}
