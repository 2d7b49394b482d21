/** Movements as they are sent and as they are found in a glTF file: where a node is at a moment, by name of the animation. */
import type { Document, Node } from '@gltf-transform/core';
import { channelsByNode } from '../read/gltf/animations.ts';
import { composed } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { keyTimes, placeAt, sample } from '../scene/motion.ts';
import type { AnimationKeys, Path, Track } from '../scene/motion.ts';
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

/** Movements of all nodes of a file. */
export function movementsIn(document: Document): Map<Node, Movement[]> {
  const out = new Map<Node, Movement[]>();
  for (const animation of document.getRoot().listAnimations())
    for (const [node, track] of channelsByNode(animation)) {
      const movement = { animation: animation.getName(), times: keyTimes(track), at: placeIn(node, track) };
      out.set(node, [...(out.get(node) ?? []), movement].sort(byName));
    }
  return out;
}

function placeIn(node: Node, track: Track): (time: number) => Matrix {
  const at = (path: Path, rest: number[], time: number) => (track[path] ? sample(track[path], time, path) : rest);
  return (time) =>
    composed(
      at('translation', node.getTranslation(), time),
      at('rotation', node.getRotation(), time),
      at('scale', node.getScale(), time),
    );
}

/** Moments that are compared: the first and the last, and some in between. */
const MOMENTS = 5;
/** Places differ by no more than this share of their lengths: times and values are in single precision. */
const SHARE = 1e-5;

export function sameMovements(sent: readonly Movement[], found: readonly Movement[]): boolean {
  return (
    sent.length === found.length &&
    sent.every((movement, i) => {
      const other = found[i];
      if (movement.animation !== other.animation) return false;
      const { times } = other;
      return Array.from(
        { length: MOMENTS },
        (_, n) => times[Math.round((n * (times.length - 1)) / (MOMENTS - 1))],
      ).every((time) => samePlace(movement.at(time), other.at(time)));
    })
  );
}

function samePlace(a: Matrix, b: Matrix): boolean {
  const reach = Math.max(1, ...a.map(Math.abs));
  return a.every((value, i) => Math.abs(value - b[i]) <= reach * SHARE);
}
