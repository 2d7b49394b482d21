/**
 * Movement of nodes over time: keys of translation, rotation and scale as glTF 2.0 has them, kept in a blob for each animation. What
 * steps do to the place of a node is kept before and after its movement, so that it moves as it was meant to.
 */
import { composed, IDENTITY, multiply, translation } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import type { SceneEditor } from './editor.ts';
import type { AnimationInfo, Motion, Scene } from './types.ts';
import type { BlobStore } from '../surroundings.ts';

/** Keys of one value. Times in seconds, rising; values one after the other, for `cubic` in-tangent, value, out-tangent. */
export interface Channel {
  times: number[];
  values: number[];
  interpolation: 'linear' | 'step' | 'cubic';
}

/** What moves of one node; lengths in metres, rotations as unit quaternions (x, y, z, w). What has no keys stays as it is at rest. */
export interface Track {
  translation?: Channel;
  rotation?: Channel;
  scale?: Channel;
}

/** Content of the blob of an animation, JSON. */
export interface AnimationKeys {
  tracks: Track[];
}

export const PATHS = ['translation', 'rotation', 'scale'] as const;
export type Path = (typeof PATHS)[number];
export const SIZES: Record<Path, number> = { translation: 3, rotation: 4, scale: 3 };

/** Every time at which something of a track has a key, rising. */
export function keyTimes(track: Track): number[] {
  return [...new Set(PATHS.flatMap((path) => track[path]?.times ?? []))].sort((a, b) => a - b);
}

/** Number of the first key after a time, by halving; as many as there are where none is. */
export function keyAfter(times: readonly number[], time: number): number {
  let [low, high] = [0, times.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle] > time) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Value of a channel at a time, held before the first and after the last key (glTF 2.0, appendix C). */
export function sample({ times, values, interpolation }: Channel, time: number, path: Path): number[] {
  const size = SIZES[path];
  const stride = interpolation === 'cubic' ? size * 3 : size;
  const middle = interpolation === 'cubic' ? size : 0;
  const at = (key: number, part = middle) => values.slice(key * stride + part, key * stride + part + size);
  const next = keyAfter(times, time);
  if (next === 0 || times.length === 1) return at(0);
  const last = next - 1;
  if (next === times.length || interpolation === 'step') return at(last);
  const span = times[next] - times[last];
  const t = (time - times[last]) / span;
  if (interpolation === 'linear')
    return path === 'rotation' ? slerp(at(last), at(next), t) : at(last).map((v, i) => v + (at(next)[i] - v) * t);
  const [v0, v1, out, into] = [at(last), at(next), at(last, 2 * size), at(next, 0)];
  const [t2, t3] = [t * t, t * t * t];
  const value = v0.map(
    (v, i) =>
      (2 * t3 - 3 * t2 + 1) * v +
      span * (t3 - 2 * t2 + t) * out[i] +
      (-2 * t3 + 3 * t2) * v1[i] +
      span * (t3 - t2) * into[i],
  );
  return path === 'rotation' ? unit(value) : value;
}

/** Place of a moving node in its parent at a time, metres. */
export function placeAt(motion: Motion, track: Track, time: number): Matrix {
  const rest = decomposed(motion.rest);
  const value = (path: Path) => (track[path] ? sample(track[path], time, path) : rest[path]);
  const own = composed(value('translation'), value('rotation'), value('scale'));
  return placed(motion, own);
}

/** Animations that still move something: of those whose nodes were all left out nothing is left. */
export function movingAnimations({ nodes, animations }: Pick<Scene, 'nodes' | 'animations'>): AnimationInfo[] {
  if (Object.keys(animations).length === 0) return [];
  const counts = new Map<string, number>();
  for (const { motion } of nodes)
    for (const id of Object.keys(motion?.tracks ?? {})) counts.set(id, (counts.get(id) ?? 0) + 1);
  return Object.values(animations).flatMap((info) => {
    const count = counts.get(info.id);
    return count ? [{ ...info, nodes: count }] : [];
  });
}

/** Places in their parents of all nodes that an animation moves, by node, at a moment. */
export function placesAt(
  { nodes }: Pick<Scene, 'nodes'>,
  animation: string,
  { tracks }: AnimationKeys,
  time: number,
): Map<number, Matrix> {
  const out = new Map<number, Matrix>();
  for (const { id, motion } of nodes) {
    const track = motion && tracks[motion.tracks[animation]];
    if (motion && track) out.set(id, placeAt(motion, track, time));
  }
  return out;
}

/** Place at rest: what the node's own transform is. */
export function restPlace(motion: Motion): Matrix {
  return placed(motion, motion.rest);
}

function placed({ growth = 1, before = IDENTITY, after = IDENTITY }: Motion, own: Matrix): Matrix {
  return multiply(before, multiply(grown(own, growth), after));
}

/** A place whose lengths have grown. */
export function grown(matrix: Matrix, factor: number): Matrix {
  return factor === 1 ? matrix : matrix.map((value, i) => (i > 11 && i < 15 ? value * factor : value));
}

/** Puts a row elsewhere by what is done before and after its own place; a moving one goes on moving from there. */
export function putElsewhere(
  edit: SceneEditor,
  row: number,
  { before = IDENTITY, after = IDENTITY }: { before?: Matrix; after?: Matrix },
): void {
  // Adding zero turns -0 into 0, so that equal placements are equal to the bit.
  const exact = (matrix: Matrix) => matrix.map((value) => value + 0);
  const { transform, motion } = edit.placed(row);
  edit.setTransform(row, exact(multiply(multiply(before, transform), after)));
  if (!motion) return;
  edit.setExtras(row, {
    motion: {
      ...motion,
      before: exact(multiply(before, motion.before ?? IDENTITY)),
      after: exact(multiply(motion.after ?? IDENTITY, after)),
    },
  });
}

/** The movement of a node of which everything has grown. */
export function grownMotion(motion: Motion, factor: number): Motion {
  return {
    ...motion,
    growth: (motion.growth ?? 1) * factor,
    ...(motion.before ? { before: grown(motion.before, factor) } : {}),
    ...(motion.after ? { after: grown(motion.after, factor) } : {}),
  };
}

/** True where nothing but a growth stands around the movement: its keys hold as they are. */
export function isPlain({ before = IDENTITY, after = IDENTITY }: Motion): boolean {
  const same = (matrix: Matrix) => matrix.every((value, i) => value === IDENTITY[i]);
  return same(before) && same(after);
}

/**
 * Translation, rotation and scale of a place. A mirror becomes a negative scale along x; what is skewed loses its skew, which these
 * three cannot hold.
 */
export function decomposed(m: Matrix): Record<Path, number[]> {
  const scale = [0, 4, 8].map((column) => Math.hypot(m[column], m[column + 1], m[column + 2]));
  const mirrored =
    m[0] * (m[5] * m[10] - m[9] * m[6]) - m[4] * (m[1] * m[10] - m[9] * m[2]) + m[8] * (m[1] * m[6] - m[5] * m[2]) < 0;
  if (mirrored) scale[0] = -scale[0];
  const r = (row: number, column: number) => m[column * 4 + row] / (scale[column] || 1);
  return { translation: [m[12], m[13], m[14]], rotation: quaternionOf(r), scale };
}

/** Unit quaternion (x, y, z, w) of a rotation, from its largest component (Shepperd 1978). */
function quaternionOf(r: (row: number, column: number) => number): number[] {
  const trace = r(0, 0) + r(1, 1) + r(2, 2);
  if (trace > 0) {
    const s = Math.sqrt(trace + 1) * 2;
    return unit([(r(2, 1) - r(1, 2)) / s, (r(0, 2) - r(2, 0)) / s, (r(1, 0) - r(0, 1)) / s, s / 4]);
  }
  const i = r(0, 0) > r(1, 1) ? (r(0, 0) > r(2, 2) ? 0 : 2) : r(1, 1) > r(2, 2) ? 1 : 2;
  const [j, k] = [(i + 1) % 3, (i + 2) % 3];
  const s = Math.sqrt(Math.max(0, 1 + r(i, i) - r(j, j) - r(k, k))) * 2 || 1;
  const q = [0, 0, 0, (r(k, j) - r(j, k)) / s];
  q[i] = s / 4;
  q[j] = (r(j, i) + r(i, j)) / s;
  q[k] = (r(k, i) + r(i, k)) / s;
  return unit(q);
}

/** The shorter way between two unit quaternions (Shoemake 1985). */
export function slerp(a: readonly number[], b: readonly number[], t: number): number[] {
  let cosine = a.reduce((sum, value, i) => sum + value * b[i], 0);
  const to = cosine < 0 ? b.map((value) => -value) : b;
  cosine = Math.min(1, Math.abs(cosine));
  const angle = Math.acos(cosine);
  const sine = Math.sin(angle);
  const [wa, wb] = sine < 1e-6 ? [1 - t, t] : [Math.sin((1 - t) * angle) / sine, Math.sin(t * angle) / sine];
  return unit(a.map((value, i) => value * wa + to[i] * wb));
}

export function unit(q: readonly number[]): number[] {
  const length = Math.hypot(...q);
  return length > 0 ? q.map((value) => value / length) : [0, 0, 0, 1];
}

/** How much a node is turned between two places, radians. */
export function angleBetween(a: Matrix, b: Matrix): number {
  const [p, q] = [decomposed(a).rotation, decomposed(b).rotation];
  return 2 * Math.acos(Math.min(1, Math.abs(p.reduce((sum, value, i) => sum + value * q[i], 0))));
}

/** Steps between two keys are no longer and turn no further than this, where a movement is written by its places. */
const STEP_SECONDS = 1 / 30;
const STEP_ANGLE = Math.PI / 90;
const MOST_STEPS = 100_000;

/** Keys, and times between them where a turn is large or a while passes. */
export function timesBetween(keys: readonly number[], turned: (from: number, to: number) => number): number[] {
  const out: number[] = [];
  for (const [i, from] of keys.entries()) {
    out.push(from);
    if (i + 1 === keys.length || out.length > MOST_STEPS) continue;
    const to = keys[i + 1];
    const steps = Math.ceil(
      Math.max(1, Math.min((to - from) / STEP_SECONDS, Math.max(4, turned(from, to) / STEP_ANGLE))),
    );
    for (let step = 1; step < steps; step++) out.push(from + ((to - from) * step) / steps);
  }
  return out;
}

/** The track that goes through places in a straight way; what never changes is left out. */
export function trackOfPlaces(times: number[], places: readonly Matrix[]): Track {
  const parts = places.map(decomposed);
  // A quaternion and its opposite are one rotation: the nearer of both is meant.
  for (let i = 1; i < parts.length; i++)
    if (parts[i].rotation.reduce((sum, value, axis) => sum + value * parts[i - 1].rotation[axis], 0) < 0)
      parts[i].rotation = parts[i].rotation.map((value) => -value);
  const track: Track = {};
  for (const path of PATHS) {
    const values = parts.flatMap((part) => part[path]);
    const size = SIZES[path];
    const changes = values.some((value, i) => Math.abs(value - values[i % size]) > 1e-9);
    if (changes) track[path] = { times, values, interpolation: 'linear' };
  }
  return track;
}

/** A track whose lengths have grown. */
export function grownTrack(track: Track, factor: number): Track {
  const { translation: moves } = track;
  if (!moves || factor === 1) return track;
  return { ...track, translation: { ...moves, values: moves.values.map((value) => value * factor) } };
}

/** What a reader that moved the origin of a geometry has to put before and after the movement of its node. */
export function shifted(before: readonly number[], after: readonly number[]): Pick<Motion, 'before' | 'after'> {
  const isZero = (vector: readonly number[]) => vector.every((value) => value === 0);
  const move = ([x, y, z]: readonly number[], sign: 1 | -1) => translation([x * sign + 0, y * sign + 0, z * sign + 0]);
  return {
    ...(isZero(before) ? {} : { before: move(before, -1) }),
    ...(isZero(after) ? {} : { after: move(after, 1) }),
  };
}

/** Keys of all movements of a scene by their ids. */
export async function keysOf(scene: Scene, blobs: BlobStore): Promise<Map<string, AnimationKeys>> {
  const out = new Map<string, AnimationKeys>();
  for (const { id, keys } of Object.values(scene.animations)) {
    if (!keys) continue;
    out.set(id, JSON.parse(new TextDecoder().decode(await blobs.get(keys))) as AnimationKeys);
  }
  return out;
}
