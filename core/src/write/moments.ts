/** The moments at which a movement is written by its places, so that going straight between them is what its keys mean. */
import { keyTimes, movingAnimations, placeAt } from '../scene/motion.ts';
import type { AnimationKeys } from '../scene/motion.ts';
import { breaksOf, byMatrix, byParts, timesWithin } from '../scene/sampling.ts';
import type { Matrix } from '../scene/matrix.ts';
import type { Motion, Scene } from '../scene/types.ts';

/**
 * Where a node is in an animation, moment by moment; undefined where it does not move in it. Seconds.
 * @param matrices the receiver goes straight from matrix to matrix, which is no turn: then there are more moments where it turns
 */
export function placesIn(
  motion: Motion,
  id: string,
  keys: ReadonlyMap<string, AnimationKeys>,
  { matrices = false } = {},
): { time: number; place: Matrix }[] | undefined {
  const track = keys.get(id)?.tracks[motion.tracks[id]];
  if (!track) return undefined;
  const at = (time: number) => placeAt(motion, track, time);
  const times = timesWithin(breaksOf(track), at, matrices ? byMatrix : byParts);
  return times.map((time) => ({ time, place: at(time) }));
}

/** Animations that move something, with how long each takes, seconds. */
export function clipsIn(scene: Scene, keys: ReadonlyMap<string, AnimationKeys>): { id: string; name: string; length: number }[] {
  return movingAnimations(scene).flatMap(({ id, name }) => {
    const tracks = keys.get(id)?.tracks ?? [];
    const length = Math.max(0, ...tracks.flatMap((track) => keyTimes(track).slice(-1)));
    return tracks.length > 0 ? [{ id, name, length }] : [];
  });
} // prettier-ignore
