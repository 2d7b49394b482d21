/** Moments at which the places of a movement are taken, so that going straight from one to the next is near what its keys mean. */
import { composed } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import { decomposed, keyTimes, slerp } from './motion.ts';
import type { Track } from './motion.ts';

/** How a receiver goes from one place to the next. @param share 0 at the first, 1 at the second */
export type Way = (from: Matrix, to: Matrix, share: number) => Matrix;

/** Numbers of the matrix, each by itself. */
export const byMatrix: Way = (from, to, share) => from.map((value, i) => value + (to[i] - value) * share);

/** Translation and scale straight, the rotation along the shorter way. */
export const byParts: Way = (from, to, share) => {
  const [a, b] = [decomposed(from), decomposed(to)];
  const straight = (p: number[], q: number[]) => p.map((value, i) => value + (q[i] - value) * share);
  return composed(straight(a.translation, b.translation), slerp(a.rotation, b.rotation, share), straight(a.scale, b.scale)); // prettier-ignore
};

/** Straight ways leave the movement by no more than this share: of its way, and of a turn or a stretch. */
const NEAR = 3e-5;
/** A piece is halved no more often than this. */
const DEEPEST = 12;
/** Moments of one movement, at most. */
const MOST = 100_000;
/** A jump is between two moments that nobody tells apart, and that single precision does. Seconds. */
const INSTANT = 1e-4;
const instantAt = (time: number) => INSTANT * Math.max(1, time / 100);

/** Every key, and before a jump the moment until which nothing moves. */
export function breaksOf(track: Track): number[] {
  const jumps = new Set(Object.values(track).flatMap(({ interpolation, times }) => (interpolation === 'step' ? times.slice(1) : []))); // prettier-ignore
  const keys = keyTimes(track);
  return keys.flatMap((time, i) => {
    const instant = instantAt(time);
    return jumps.has(time) && time - keys[i - 1] > 2 * instant ? [time - instant, time] : [time];
  });
}

/** Breaks, and as many moments between them as keep the straight way near. @param at the place at a moment */
export function timesWithin(breaks: readonly number[], at: (time: number) => Matrix, way: Way): number[] {
  if (breaks.length < 2) return [...breaks];
  const size = sizeOf(breaks, at);
  const out: number[] = [breaks[0]];
  const between = (from: number, a: Matrix, to: number, b: Matrix, depth: number): void => {
    const isJump = to - from < 1.5 * instantAt(to);
    const bends = () =>
      [0.25, 0.5, 0.75].some((share) => off(way(a, b, share), at(from + (to - from) * share), size) > NEAR);
    if (!isJump && depth < DEEPEST && out.length < MOST && bends()) {
      const middle = (from + to) / 2;
      const there = at(middle);
      between(from, a, middle, there, depth + 1);
      between(middle, there, to, b, depth + 1);
    } else out.push(to);
  };
  let last = at(breaks[0]);
  for (let i = 1; i < breaks.length; i++) {
    const next = at(breaks[i]);
    between(breaks[i - 1], last, breaks[i], next, 0);
    last = next;
  }
  return out;
}

/** How long the way is, about: the largest distance of its places from the first. Metres. */
function sizeOf(breaks: readonly number[], at: (time: number) => Matrix): number {
  const first = at(breaks[0]);
  let size = 0;
  const see = (m: Matrix) => (size = Math.max(size, Math.hypot(m[12] - first[12], m[13] - first[13], m[14] - first[14]))); // prettier-ignore
  for (let i = 1; i < breaks.length; i++) {
    see(at(breaks[i]));
    for (const share of [0.25, 0.5, 0.75]) see(at(breaks[i - 1] + (breaks[i] - breaks[i - 1]) * share));
  }
  return size || 1;
}

/** How far two places are apart: as a share of the way, or of a turn or a stretch, whichever is more. */
function off(a: Matrix, b: Matrix, size: number): number {
  let [turned, longest] = [0, 0];
  for (const at of [0, 1, 2, 4, 5, 6, 8, 9, 10]) {
    turned = Math.max(turned, Math.abs(a[at] - b[at]));
    longest = Math.max(longest, Math.abs(b[at]));
  }
  return Math.max(turned / (longest || 1), Math.hypot(a[12] - b[12], a[13] - b[13], a[14] - b[14]) / size);
}
