/**
 * Movements of a scene on the one timeline that USD has: one clip after the other, with a second between them in which what has moved is
 * back at rest. Names and spans of the clips stand in the layer's own data.
 */
import { composed } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { decomposed } from '../../scene/motion.ts';
import type { AnimationKeys } from '../../scene/motion.ts';
import type { Motion, Scene, SceneNode } from '../../scene/types.ts';
import { clipsIn, placesIn } from '../moments.ts';
import { double, tuple } from './text.ts';
import type { UsdText } from './text.ts';

/** Time codes of a second. */
export const CODES = 24;
/** Seconds between clips, and how long after one what it moved is back. */
const GAP = 1;
const BACK = 0.25;

export interface Clip {
  id: string;
  name: string;
  /** Seconds of the timeline. */
  start: number;
  end: number;
}

/** The clips that the timeline has, in the order of the scene. */
export function clipsOf(scene: Scene, keys: ReadonlyMap<string, AnimationKeys>): Clip[] {
  let start = 0;
  return clipsIn(scene, keys).map(({ id, name, length }) => {
    const clip = { id, name, start, end: start + length };
    start = clip.end + GAP;
    return clip;
  });
}

/** Keys of a node over the whole timeline, seconds. @param rest its place where it does not move */
function keysOver(
  motion: Motion,
  rest: Matrix,
  clips: readonly Clip[],
  keys: ReadonlyMap<string, AnimationKeys>,
): { time: number; place: Matrix }[] {
  const out: { time: number; place: Matrix }[] = [];
  for (const { id, start, end } of clips) {
    const places = placesIn(motion, id, keys);
    if (!places) continue;
    // At rest before it begins and after it has ended, where others move.
    if (start > 0) out.push({ time: start - BACK, place: rest });
    for (const { time, place } of places) out.push({ time: start + time, place });
    if (clips.at(-1)?.id !== id) out.push({ time: end + BACK, place: rest });
  }
  return out;
} // prettier-ignore

/** Writes the place of a node: at rest, or over time. Lengths in metres. */
export function writePlace(text: UsdText, node: SceneNode, clips: readonly Clip[], keys: ReadonlyMap<string, AnimationKeys>): void {
  const { motion } = node;
  const over = motion ? keysOver(motion, node.transform, clips, keys) : [];
  if (over.length === 0) {
    text.line(`matrix4d xformOp:transform = ${matrixText(node.transform)}`);
    text.line('uniform token[] xformOpOrder = ["xformOp:transform"]');
    return;
  }
  // At rest, and over time; a quaternion and its opposite are one turn, of which the nearer is meant.
  const places = [node.transform, ...over.map(({ place }) => place)];
  const parts = places.map(decomposed);
  for (let i = 1; i < parts.length; i++)
    if (parts[i].rotation.reduce((sum, value, axis) => sum + value * parts[i - 1].rotation[axis], 0) < 0)
      parts[i].rotation = parts[i].rotation.map((value) => -value);
  const isPlain = places.every((place, i) => {
    const again = composed(parts[i].translation, parts[i].rotation, parts[i].scale);
    const reach = Math.max(1, ...place.map(Math.abs));
    return place.every((value, k) => Math.abs(value - again[k]) < reach * 1e-9);
  });
  const written = (head: string, each: (i: number) => string) => {
    text.line(`${head} = ${each(0)}`);
    text.line(`${head}.timeSamples = {`);
    over.forEach(({ time }, i) => text.line(`    ${double(time * CODES)}: ${each(i + 1)},`));
    text.line('}');
  };
  if (!isPlain) {
    // A place that is skewed has no move, turn and scale.
    written('matrix4d xformOp:transform', (i) => matrixText(places[i]));
    text.line('uniform token[] xformOpOrder = ["xformOp:transform"]');
    return;
  }
  written('double3 xformOp:translate', (i) => tuple(parts[i].translation));
  written('quatf xformOp:orient', (i) => tuple([parts[i].rotation[3], ...parts[i].rotation.slice(0, 3)]));
  written('float3 xformOp:scale', (i) => tuple(parts[i].scale));
  text.line('uniform token[] xformOpOrder = ["xformOp:translate", "xformOp:orient", "xformOp:scale"]');
} // prettier-ignore

/** Rows of four, as USD has them: a point is a row before them, which is our matrix column by column. */
function matrixText(m: Matrix): string {
  return `( ${[0, 4, 8, 12].map((at) => tuple(m.slice(at, at + 4))).join(', ')} )`;
}
