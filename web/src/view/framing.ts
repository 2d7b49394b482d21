/** Where to stand so that a box fills the picture. */
import { Vector3 } from 'three';
import { corners } from '@noble-prism/core/scene/tree';
import type { Box } from '@noble-prism/core/scene/types';

export interface Lens {
  /** Angle of the whole height. */
  degrees: number;
  /** Width of the free part of the picture by its height. */
  aspect: number;
  /** Share of the height that is free. */
  free: number;
}

/**
 * The nearest point from which all corners of the box are in the free part of the picture.
 * @param back unit vector from the middle of the box to whoever looks
 */
export function standpoint(box: Box, back: Vector3, { degrees, aspect, free }: Lens): Vector3 {
  const centre = new Vector3(...box.min).add(new Vector3(...box.max)).multiplyScalar(0.5);
  const radius = Math.max(centre.distanceTo(new Vector3(...box.max)), 1e-4);
  const right = new Vector3(0, 1, 0).cross(back);
  // Straight from above there is no right hand: any will do.
  if (right.lengthSq() < 1e-12) right.set(1, 0, 0);
  right.normalize();
  const up = back.clone().cross(right);
  const tall = Math.tan((degrees * Math.PI) / 360) * free;
  let distance = radius * 0.2;
  for (const corner of corners(box)) {
    const v = new Vector3(...corner).sub(centre);
    const away = Math.max(Math.abs(v.dot(right)) / (tall * aspect), Math.abs(v.dot(up)) / tall);
    distance = Math.max(distance, v.dot(back) + away);
  }
  return centre.addScaledVector(back, distance);
}
