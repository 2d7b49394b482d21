/** The moments at which a movement is written by its places, so that going straight between them is what its keys mean. */
import { angleBetween, keyTimes, movingAnimations, placeAt, placedTrack, timesBetween } from '../scene/motion.ts';
import type { AnimationKeys, Track } from '../scene/motion.ts';
import type { Matrix } from '../scene/matrix.ts';
import type { Motion, Scene } from '../scene/types.ts';

/** A jump is between two moments that nobody tells apart. */
const INSTANT = 1e-4;
/** Pieces of what goes along a curve from key to key. */
const PIECES = 8;

/** Times at which a place is written, so that going straight between them is what the keys mean. */
export function momentsOf(track: Track): number[] {
  const kinds = Object.values(track).map(({ interpolation }) => interpolation);
  const keys = keyTimes(track);
  const out: number[] = [];
  for (const [i, time] of keys.entries()) {
    const before = keys[i - 1];
    if (before !== undefined && kinds.includes('cubic'))
      for (let n = 1; n < PIECES; n++) out.push(before + ((time - before) * n) / PIECES);
    if (before !== undefined && kinds.includes('step') && time - before > 2 * INSTANT) out.push(time - INSTANT);
    out.push(time);
  }
  return out;
}

/**
 * Where a node is in an animation, moment by moment; undefined where it does not move in it. Seconds.
 * @param byMatrix going straight from matrix to matrix is no turn: then there are moments in between where it turns
 */
export function placesIn(
  motion: Motion,
  id: string,
  keys: ReadonlyMap<string, AnimationKeys>,
  { byMatrix = false } = {},
): { time: number; place: Matrix }[] | undefined {
  const track = keys.get(id)?.tracks[motion.tracks[id]];
  if (!track) return undefined;
  // What steps did before and after a movement bends its way: then it has more keys.
  const moments = momentsOf(placedTrack(motion, track));
  const turned = (from: number, to: number) => angleBetween(placeAt(motion, track, from), placeAt(motion, track, to));
  const times = byMatrix ? timesBetween(moments, turned) : moments;
  return times.map((time) => ({ time, place: placeAt(motion, track, time) }));
}

/** Animations that move something, with how long each takes, seconds. */
export function clipsIn(scene: Scene, keys: ReadonlyMap<string, AnimationKeys>): { id: string; name: string; length: number }[] {
  return movingAnimations(scene).flatMap(({ id, name }) => {
    const tracks = keys.get(id)?.tracks ?? [];
    const length = Math.max(0, ...tracks.flatMap((track) => keyTimes(track).slice(-1)));
    return tracks.length > 0 ? [{ id, name, length }] : [];
  });
} // prettier-ignore
