/** A point that was picked or typed, as steps keep it: in the world, or on a part, whose geometry it then goes with. */
import { array, number, object, string, tuple } from 'yup';
import type { Landmark } from '../measure/landmark.ts';
import { factsOf } from './facts.ts';
import { invert, normalize, transformPoint } from './matrix.ts';
import type { Matrix, Vector } from './matrix.ts';
import { geometryTransform } from './tree.ts';
import type { Hash, Scene } from './types.ts';

export interface Spot {
  /** Metres, in the frame of the geometry of the part, or in the world. */
  at: Vector;
  /** Key of the part. */
  on?: string;
  /** Direction that belongs to it, of a circle or a hole; length one, in the same frame. */
  axis?: Vector;
  /** What was picked, for people: `centre of a circle, r 25 mm`. */
  what?: string;
  /** What of the geometry it was picked by: where that is gone, the spot means another place than it did. */
  by?: { mesh: Hash; landmarks: Landmark[] };
}

/** Of a spot, at most: both ends of an edge are two. */
const MOST_LANDMARKS = 4;

/** Farthest that a coordinate may lie, metres: beyond, doubles tell no micrometres apart. */
const FARTHEST = 1e9;

const coordinates = (most: number) =>
  tuple([
    number().required().min(-most).max(most),
    number().required().min(-most).max(most),
    number().required().min(-most).max(most),
  ]);

/** @param called what messages call it: `The point` */
export function spotSchema(called: string) {
  return object({
    at: coordinates(FARTHEST)
      .required(`${called} is missing.`)
      .test(
        'numbers',
        `${called} has a coordinate beyond ${FARTHEST / 1000} km, or one that is no number.`,
        (value) => value?.every((one) => Number.isFinite(one) && Math.abs(one ?? 0) <= FARTHEST) ?? false,
      ),
    on: string().max(4000),
    axis: coordinates(1.001),
    what: string().max(200),
    by: object({
      mesh: string().required().max(100),
      landmarks: array(
        object({
          at: coordinates(FARTHEST).required(),
          of: string().oneOf(['corner', 'edge', 'face']).required(),
        }).noUnknown(),
      )
        .required()
        .max(MOST_LANDMARKS),
    })
      .noUnknown()
      .default(undefined),
  }).noUnknown();
}

/** Where the geometry of a row stands in the world. */
export function geometryPlace(scene: Scene, row: number): Matrix {
  return geometryTransform(scene.nodes.row(row), factsOf(scene).world(row));
}

/** Where it is in the world; undefined where its part is no longer there. */
export function spotInWorld(scene: Scene, spot: Spot): { point: Vector; axis?: Vector } | undefined {
  if (spot.on === undefined) return { point: spot.at, ...(spot.axis ? { axis: spot.axis } : {}) };
  const row = factsOf(scene).rowOf(spot.on);
  return row === undefined ? undefined : placed(spot, geometryPlace(scene, row));
}

/** Why a spot is nowhere, for people. */
export function lostSpot(spot: Spot | undefined): string {
  return `The part on which the point was picked is no longer there: ${spot?.on}.`;
}

/** A spot of some frame, seen from outside of it. */
export function placed({ at, axis }: Spot, place: Matrix): { point: Vector; axis?: Vector } {
  return { point: transformPoint(place, at), ...(axis ? { axis: directionIn(place, axis) } : {}) };
}

/** A direction of a frame, seen from outside of it; length one. */
export function directionIn([a, b, c, , d, e, f, , g, h, i]: Matrix, [x, y, z]: Vector): Vector {
  return normalize([a * x + d * y + g * z, b * x + e * y + h * z, c * x + f * y + i * z]);
}

/** A point of the world as a spot on a part. @param landmarks what of the part it was picked by, in the world */
export function spotOn(
  scene: Scene,
  row: number,
  point: Vector,
  axis?: Vector,
  landmarks: readonly Landmark[] = [],
): Spot {
  const inverse = invert(geometryPlace(scene, row));
  const mesh = scene.nodes.word('mesh', row);
  const by = landmarks.map(({ at, ...rest }) => ({ at: transformPoint(inverse, at), ...rest }));
  return {
    at: transformPoint(inverse, point),
    on: scene.nodes.key(row),
    ...(axis ? { axis: directionIn(inverse, axis) } : {}),
    ...(mesh && by.length > 0 ? { by: { mesh, landmarks: by } } : {}),
  };
}
