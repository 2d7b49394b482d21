/**
 * The keys of a moving node as it stands now, with all that steps did around its movement. What was done the same at all times leaves
 * the keys where they are, whatever goes on between them: jumps stay jumps, curves stay curves. What bends the way is sampled.
 */
import { composed, IDENTITY, transformPoint, translation } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import { decomposed, grownTrack, isPlain, keyTimes, PATHS, placeAt, trackOfPlaces } from './motion.ts';
import type { Channel, Track } from './motion.ts';
import { breaksOf, byParts, timesWithin } from './sampling.ts';
import type { Motion } from './types.ts';

/** Differences below this are rounding. */
const SAME = 1e-9;

export function placedTrack(motion: Motion, track: Track): Track {
  if (isPlain(motion)) return grownTrack(track, motion.growth ?? 1);
  return keptTrack(motion, track) ?? sampledTrack(motion, track);
}

/** Translation, rotation and one scale for all directions; undefined where a place is more than that. */
function evenly(m: Matrix): { move: number[]; turn: number[]; scale: number } | undefined {
  const { translation: move, rotation: turn, scale } = decomposed(m);
  const [x, y, z] = scale;
  const isSquare = [[0, 4], [0, 8], [4, 8]].every(([a, b]) => Math.abs(m[a] * m[b] + m[a + 1] * m[b + 1] + m[a + 2] * m[b + 2]) < SAME * y * y); // prettier-ignore
  return Math.abs(x - y) < SAME * y && Math.abs(x - z) < SAME * y && isSquare ? { move, turn, scale: x } : undefined;
}

/** The same keys elsewhere; undefined where that is no movement by keys. */
function keptTrack(motion: Motion, track: Track): Track | undefined {
  const { before = IDENTITY, after = IDENTITY, growth = 1 } = motion;
  const [outer, inner] = [evenly(before), evenly(after)];
  if (!outer || !inner) return undefined;
  const isTurned = inner.turn[3] < 1 - SAME;
  // A turn inside changes axes: of what is stretched unevenly it makes something that three numbers do not hold.
  if (isTurned && !isEvenlyScaled(motion, track)) return undefined;
  const out: Track = {};
  if (track.rotation) out.rotation = mapped(track.rotation, 4, (q) => times(times(outer.turn, q), inner.turn));
  if (track.scale) out.scale = mapped(track.scale, 3, (v) => v.map((one) => one * outer.scale * inner.scale));
  const isAtPivot = inner.move.every((value) => Math.abs(value) < SAME);
  const turns = track.rotation ?? track.scale;
  if (isAtPivot || !turns) {
    if (!track.translation) return out;
    const rest = decomposed(motion.rest);
    const beside = isAtPivot
      ? [0, 0, 0]
      : transformPoint(composed([0, 0, 0], rest.rotation, rest.scale), vector(inner.move));
    out.translation = mapped(
      track.translation,
      3,
      (v) => transformPoint(linear(before), vector(v.map((value) => value * growth))),
      transformPoint(before, vector(beside)),
    );
    return out;
  }
  // What does not sit at its pivot goes round it.
  const at = (time: number) => translation(decomposed(placeAt(motion, track, time)).translation as [number, number, number]); // prettier-ignore
  const isJumps = Object.values(track).every(({ interpolation }) => interpolation === 'step');
  const moments = isJumps ? keyTimes(track) : timesWithin(breaksOf(track), at, byParts);
  const values = moments.flatMap((time) => at(time).slice(12, 15));
  return { ...out, translation: { times: moments, values, interpolation: isJumps ? 'step' : 'linear' } };
}

function isEvenlyScaled({ rest }: Motion, { scale }: Track): boolean {
  const values = scale ? scale.values : decomposed(rest).scale;
  for (let i = 0; i < values.length; i += 3)
    if (Math.abs(values[i] - values[i + 1]) + Math.abs(values[i] - values[i + 2]) > SAME * Math.abs(values[i]) + 1e-12) return false; // prettier-ignore
  return true;
}

/** @param map linear, of each value and of the tangents; @param move is added to values alone */
function mapped(
  { times: moments, values, interpolation }: Channel,
  size: number,
  map: (value: number[]) => readonly number[],
  move: readonly number[] = [],
): Channel {
  const out: number[] = [];
  for (let i = 0; i * size < values.length; i++) {
    // In-tangent, value, out-tangent.
    const isValue = interpolation !== 'cubic' || i % 3 === 1;
    const value = map(values.slice(i * size, i * size + size));
    out.push(...value.map((one, axis) => one + (isValue ? (move[axis] ?? 0) : 0)));
  }
  return { times: moments, values: out, interpolation };
}

/** Places at every key and between, as near as they have to be. */
function sampledTrack(motion: Motion, track: Track): Track {
  const at = (time: number) => placeAt(motion, track, time);
  const isJumps = Object.values(track).every(({ interpolation }) => interpolation === 'step');
  const moments = isJumps ? keyTimes(track) : timesWithin(breaksOf(track), at, byParts);
  const out = trackOfPlaces(moments, moments.map(at));
  if (isJumps) for (const path of PATHS) if (out[path]) out[path] = { ...out[path], interpolation: 'step' };
  return out;
}

const vector = ([x, y, z]: readonly number[]): [number, number, number] => [x, y, z];
const linear = (m: Matrix): Matrix => m.map((value, i) => (i > 11 && i < 15 ? 0 : value));

/** Product of two quaternions (x, y, z, w): first the second turn, then the first. */
function times([a, b, c, d]: readonly number[], [x, y, z, w]: readonly number[]): number[] {
  return [
    d * x + a * w + b * z - c * y,
    d * y - a * z + b * w + c * x,
    d * z + a * y - b * x + c * w,
    d * w - a * x - b * y - c * z,
  ];
}
