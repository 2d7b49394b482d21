/** A point of the geometry of a part that something else was picked by. */
import type { Vector } from '../scene/matrix.ts';

/** In the frame of the part: a corner of it, or a point of an edge or a face. */
export interface Landmark {
  at: Vector;
  of: 'corner' | 'edge' | 'face';
}
