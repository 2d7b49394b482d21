/** Where the pointer is when it is over nothing: on a plane, or on a line, through the point that was taken. */
import { Vector3 } from 'three';
import type { Ray } from 'three';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { CameraWork } from './cameraWork.ts';

/** The plane across a direction, or the line along one, through what was taken. */
export type Guide = { normal: Vector } | { along: Vector };

/** Seen flatter than this (sine), a plane tells nothing about where the pointer is. */
const FLAT = 0.1;

/** @param guide the plane across the view where none is said. World, metres. */
export function guided(eye: CameraWork, x: number, y: number, taken: Vector, guide?: Guide): Vector {
  return onGuide(eye.ray(x, y), eye.camera.getWorldDirection(new Vector3()), taken, guide);
}

/** Where a ray meets the guide; of a line, the point of it that is nearest to the ray. @param ahead where the camera looks */
export function onGuide({ origin, direction }: Ray, ahead: Vector3, taken: Vector, guide?: Guide): Vector {
  const through = new Vector3(...taken);
  if (guide && 'along' in guide) {
    const along = new Vector3(...guide.along).normalize();
    // Two lines: the foot on the first of what is across both.
    const across = direction.dot(along);
    const apart = through.clone().sub(origin);
    const flat = 1 - across * across;
    const way = flat < 1e-9 ? 0 : (direction.dot(apart) * across - along.dot(apart)) / flat;
    return through.addScaledVector(along, way).toArray();
  }
  const normal = guide ? new Vector3(...guide.normal).normalize() : ahead;
  const away = through.clone().sub(origin).dot(normal) / direction.dot(normal);
  if (Math.abs(direction.dot(normal)) >= FLAT && away > 0)
    return origin.clone().addScaledVector(direction, away).toArray();
  const level = through.sub(origin).dot(ahead) / direction.dot(ahead);
  return origin.clone().addScaledVector(direction, level).toArray();
}
