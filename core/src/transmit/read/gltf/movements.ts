/** What moves the nodes of a glTF file, as the loader plays it. */
import type { AnimationClip, Interpolant, KeyframeTrack, Object3D } from 'three';
import type { GLTF } from 'three/addons/loaders/GLTFLoader.js';
import { composed } from '../../../scene/matrix.ts';
import type { Matrix } from '../../../scene/matrix.ts';
import type { Movement } from '../../movements.ts';

export interface NamedMovement extends Omit<Movement, 'at'> {
  at(time: number, object: Object3D): Matrix;
}

/** What moves each node, by the name that the loader gave it, which is unique. */
export function movementsByName({ animations }: GLTF): Map<string, NamedMovement[]> {
  const out = new Map<string, NamedMovement[]>();
  for (const clip of animations)
    for (const [name, tracks] of tracksByName(clip)) {
      const curves: Record<string, Interpolant> = {};
      const times = new Set<number>();
      for (const [path, track] of tracks) {
        curves[path] = curveOf(track);
        for (const time of track.times) times.add(time);
      }
      const at = (time: number, { position, quaternion, scale }: Object3D) =>
        composed(
          [...(curves.position?.evaluate(time) ?? position.toArray())],
          [...(curves.quaternion?.evaluate(time) ?? quaternion.toArray())],
          [...(curves.scale?.evaluate(time) ?? scale.toArray())],
        );
      const movement = { animation: clip.name, times: [...times].sort((a, b) => a - b), at };
      out.set(
        name,
        [...(out.get(name) ?? []), movement].sort((a, b) => (a.animation < b.animation ? -1 : 1)),
      );
    }
  return out;
}

function curveOf(track: KeyframeTrack): Interpolant {
  return (track as unknown as { createInterpolant(): Interpolant }).createInterpolant();
}

function tracksByName({ tracks }: AnimationClip): Map<string, [path: string, KeyframeTrack][]> {
  const out = new Map<string, [string, KeyframeTrack][]>();
  for (const track of tracks) {
    const point = track.name.lastIndexOf('.');
    const name = track.name.slice(0, point);
    out.set(name, [...(out.get(name) ?? []), [track.name.slice(point + 1), track]]);
  }
  return out;
}
