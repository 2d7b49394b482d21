/** Where the origin of the job lies: in the coordinates that its sources came in, and on the map. */
import { IDENTITY, multiply, transformPoint, translation } from './matrix.ts';
import type { Matrix, Vector } from './matrix.ts';
import type { Scene } from './types.ts';

/**
 * From coordinates of the job to those of a map, as IfcMapConversion has them (ISO 16739-1): a turn about the vertical, a scale, and
 * the place of the origin. x of IFC is x of the job, its y is -z, its z is y.
 */
export interface MapConversion {
  /** Of the origin of the job, metres. */
  eastings: number;
  northings: number;
  /** Orthogonal height of the origin, metres. */
  height: number;
  /** From grid east to the x axis of the job, radians, counterclockwise seen from above. */
  rotation: number;
  /** Lengths on the map for those of the job. */
  scale: number;
  /** What the system of the map is called, `EPSG:2056`. */
  system?: string;
}

export interface SceneOrigin {
  /** Where it lies in the coordinates that everything came in, metres: what was taken off to work near zero. */
  offset?: Vector;
  map?: MapConversion;
}

/** Which coordinates a file that goes out is in. */
export const COORDINATES = ['local', 'restored', 'map'] as const;
export type Coordinates = (typeof COORDINATES)[number];

/** Eastings, northings and height of a point of the job, metres: ISO 16739-1, IfcMapConversion. */
export function onMap({ eastings, northings, height, rotation, scale }: MapConversion, [x, y, z]: Vector): Vector {
  const [cos, sin] = [Math.cos(rotation), Math.sin(rotation)];
  return [eastings + scale * (x * cos + z * sin), northings + scale * (x * sin - z * cos), height + scale * y];
}

/** The conversion that puts a point of the job at a place of the map. */
export function conversionAt(point: Vector, there: MapConversion): MapConversion {
  const [east, north, up] = onMap(there, point);
  return {
    ...there,
    eastings: 2 * there.eastings - east,
    northings: 2 * there.northings - north,
    height: 2 * there.height - up,
  };
}

/** The origin after everything was moved so that a point of the job lies at zero. */
export function movedOrigin({ offset = [0, 0, 0], map }: SceneOrigin, taken: Vector): SceneOrigin {
  const sum: Vector = [offset[0] + taken[0], offset[1] + taken[1], offset[2] + taken[2]];
  if (!map) return { offset: sum };
  const [eastings, northings, height] = onMap(map, taken);
  return { offset: sum, map: { ...map, eastings, northings, height } };
}

/** What is done to everything so that it stands in other coordinates; eastings along x, heights along y, northings against z. */
export function intoCoordinates({ offset = [0, 0, 0], map }: SceneOrigin, coordinates: Coordinates): Matrix {
  if (coordinates === 'restored') return translation(offset);
  if (coordinates === 'local' || !map) return IDENTITY;
  const { eastings, northings, height, rotation, scale } = map;
  const [cos, sin] = [Math.cos(rotation) * scale, Math.sin(rotation) * scale];
  return multiply(translation([eastings, height, -northings]), [
    cos, 0, -sin, 0,
    0, scale, 0, 0,
    sin, 0, cos, 0,
    0, 0, 0, 1,
  ]); // prettier-ignore
}

/** The origin of a file that is in other coordinates: what is said of it is said of where the zero of the file lies. */
export function originIn(origin: SceneOrigin, coordinates: Coordinates): SceneOrigin {
  const { offset = [0, 0, 0], map } = origin;
  if (coordinates === 'restored') return movedOrigin(origin, [-offset[0], -offset[1], -offset[2]]);
  if (coordinates === 'local' || !map) return origin;
  return { map: { ...map, eastings: 0, northings: 0, height: 0, rotation: 0, scale: 1 } };
}

/** A point of the job in the coordinates that everything came in. */
export function asReceived({ origin = {} }: Pick<Scene, 'origin'>, point: Vector): Vector {
  return transformPoint(intoCoordinates(origin, 'restored'), point);
}
