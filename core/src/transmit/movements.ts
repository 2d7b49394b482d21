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

/** Moments that are compared: the first and the last, and some in between. */
const MOMENTS = 5;
/** Places differ by no more than this share of their lengths: times and values are in single precision. */
const SHARE = 1e-5;
/** And no more between keys, where curves are written as short straight ways. */
const BETWEEN = 5e-3;
/** Seconds of a jump: nobody sees what is in it. */
const JUMP = 2e-3;

/** What stands still all the time is no movement: some formats cannot say that nothing changes. */
function moves({ times, at }: Movement): boolean {
  const first = at(times[0] ?? 0);
  return times.some((time) => !samePlace(first, at(time)));
}

export function sameMovements(all: readonly Movement[], allFound: readonly Movement[]): boolean {
  const [sent, found] = [all.filter(moves), allFound.filter(moves)];
  return (
    sent.length === found.length &&
    sent.every((movement, i) => {
      const other = found[i];
      if (movement.animation !== other.animation) return false;
      const { times } = other;
      const at = (n: number) => times[Math.round((n * (times.length - 1)) / (MOMENTS - 1))];
      const moments = Array.from({ length: MOMENTS }, (_, n) => at(n));
      // Between keys too: what goes another way from one to the next is another movement.
      const between = moments.flatMap((time) => {
        const next = times[times.indexOf(time) + 1];
        return next === undefined || next - time < JUMP ? [] : [(time + next) / 2];
      });
      return (
        moments.every((time) => samePlace(movement.at(time), other.at(time))) &&
        between.every((time) => samePlace(movement.at(time), other.at(time), BETWEEN))
      );
    })
  );
}

function samePlace(a: Matrix, b: Matrix, share = SHARE): boolean {
  const reach = Math.max(1, ...a.map(Math.abs));
  return a.every((value, i) => Math.abs(value - b[i]) <= reach * share);
}
