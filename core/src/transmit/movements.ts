/** Movements as they are sent and as they are found: where a node is at a moment, by name of the animation. */
import type { Matrix } from '../scene/matrix.ts';
import { keyTimes, placeAt } from '../scene/motion.ts';
import type { AnimationKeys } from '../scene/motion.ts';
import type { Scene, SceneNode } from '../scene/types.ts';

export interface Movement {
  animation: string;
  /** Times of its keys, seconds. */
  times: number[];
  /** Place in the parent, metres. */
  at(time: number): Matrix;
}

const byName = (a: Movement, b: Movement) => (a.animation < b.animation ? -1 : a.animation > b.animation ? 1 : 0);

/** Movements of a node of the scene. Those that move nothing by their places are none. */
export function movementsOf({ motion }: SceneNode, scene: Scene, keys: Map<string, AnimationKeys>): Movement[] {
  if (!motion) return [];
  return Object.entries(motion.tracks)
    .flatMap(([id, index]): Movement[] => {
      const track = keys.get(id)?.tracks[index];
      if (!track) return [];
      const times = keyTimes(track);
      return [{ animation: scene.animations[id].name, times, at: (time) => placeAt(motion, track, time) }];
    })
    .sort(byName);
}

/**
 * Places differ by no more than this share: lengths of the way that the node goes, the rest of a turn or a stretch. Values are in single
 * precision, and curves are written as short straight ways.
 */
const SHARE = 1e-4;
/** And lengths by no more than single precision leaves of where the node is. */
const PRECISION = 2 ** -22;
/** Seconds by which times may be off, and of a jump: nobody sees what is in it. */
const instantAt = (time: number) => 4e-4 * Math.max(1, time / 100);

/** Seconds by which single precision rounds times, at one second. */
const ROUNDED = 2e-6;

/** What stands still all the time is no movement: some formats cannot say that nothing changes. */
function moves({ times, at }: Movement): boolean {
  const first = at(times[0] ?? 0);
  return times.some((time) => farthest(first, at(time), 0) > SHARE * 1e-2);
}

export function sameMovements(all: readonly Movement[], allFound: readonly Movement[]): boolean {
  const [sent, found] = [all.filter(moves), allFound.filter(moves)];
  return (
    sent.length === found.length &&
    sent.every((movement, i) => movement.animation === found[i].animation && movementOff(movement, found[i]) <= SHARE)
  );
}

/** How far a movement that was found is from the one that was sent, at most, at every key of both and between: as a share of its size. */
export function movementOff(sent: Movement, found: Movement): number {
  const keys = [...new Set([...sent.times, ...found.times])].sort((a, b) => a - b);
  const between = keys
    .slice(1)
    .flatMap((time, i) => (time - keys[i] < 2 * instantAt(time) ? [] : [(time + keys[i]) / 2]));
  const moments = [...keys, ...between];
  const first = sent.at(moments[0] ?? 0);
  const way = Math.max(0, ...moments.map((time) => apart(first, sent.at(time))));
  return Math.max(
    0,
    ...moments.map((time) => {
      const there = found.at(time);
      const straight = farthest(sent.at(time), there, way);
      if (straight <= SHARE) return straight;
      // A jump is where it is said, but for what times are rounded by: in it, anything between its ends will do.
      const around = [ROUNDED * Math.max(1, time), instantAt(time)].map((instant) =>
        farthest(nearestBetween(sent.at(time - instant), sent.at(time + instant), there), there, way),
      );
      return Math.min(straight, ...around);
    }),
  );
}

/** The turn and the position on the straight ways from one place to another that are nearest to a third: in a jump each has its own moment. */
function nearestBetween(a: Matrix, b: Matrix, to: Matrix): Matrix {
  const shareOf = (from: number, until: number) => {
    let [along, length] = [0, 0];
    for (let i = from; i < until; i++) {
      along += (b[i] - a[i]) * (to[i] - a[i]);
      length += (b[i] - a[i]) ** 2;
    }
    return length > 0 ? Math.max(0, Math.min(1, along / length)) : 0;
  };
  const [turn, move] = [shareOf(0, 12), shareOf(12, 15)];
  return a.map((value, i) => value + (b[i] - value) * (i < 12 ? turn : move));
}

const apart = (a: Matrix, b: Matrix) => Math.hypot(a[12] - b[12], a[13] - b[13], a[14] - b[14]);

/** @param way that the node goes, metres; where it goes none, lengths are shares of a metre */
function farthest(a: Matrix, b: Matrix, way: number): number {
  let [turned, longest, far] = [0, 0, 0];
  for (const at of [0, 1, 2, 4, 5, 6, 8, 9, 10]) {
    turned = Math.max(turned, Math.abs(a[at] - b[at]));
    longest = Math.max(longest, Math.abs(a[at]));
  }
  for (const at of [12, 13, 14]) far = Math.max(far, Math.abs(a[at]));
  const off = Math.max(0, apart(a, b) - far * PRECISION);
  return Math.max(longest > 0 ? turned / longest : turned, off === 0 ? 0 : off / (way || 1));
}
