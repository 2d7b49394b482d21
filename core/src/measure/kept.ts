/** Measures that are kept under a name: what each says in words, and the geometry behind them. */
import { cross, dot } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { formatArea, formatLength, formatMass, formatNumber, formatVolume, metresPer } from '../units.ts';
import { circleThrough, lengthOf, minus } from './circle.ts';

export const MEASURES = ['distance', 'angle', 'radius', 'area', 'volume', 'mass'] as const;
export type MeasureOf = (typeof MEASURES)[number];

/** A measure that was taken. */
export interface Measured {
  name: string;
  of: MeasureOf;
  /** Metres, radians, square or cubic metres, kilograms. */
  value: number;
  /** Of a distance: from the first point to the second along the axes of the world, metres. */
  along?: Vector;
  /** Between which it was measured, or through which; world, metres. */
  points: Vector[];
  /** True where all of it is of solids, false where some of it is of meshes; nothing where that makes no difference. */
  isExact?: boolean;
  /** Parts that it is the sum of. */
  parts?: number;
}

/** The angle at the second point between the ways to the two others, radians, 0 to π; none where a way has no length. */
export function angleAt(a: Vector, corner: Vector, b: Vector): number | undefined {
  const [to, from] = [minus(a, corner), minus(b, corner)];
  if (lengthOf(to) === 0 || lengthOf(from) === 0) return undefined;
  // By both sine and cosine: near 0 and π neither tells it alone.
  return Math.atan2(lengthOf(cross(to, from)), dot(to, from));
}

/** Radius of the circle through three points, metres; none where they lie on one line. */
export function radiusThrough(a: Vector, b: Vector, c: Vector): number | undefined {
  return circleThrough(a, b, c)?.radius;
}

/** `412.5 mm (x 400, y 0, z -100 mm)`. @param unit that people read lengths in */
export function measuredWords({ of, value, along, isExact, parts }: Measured, unit: string): string {
  const from = isExact === undefined ? '' : isExact ? ' (exact)' : ' (from meshes)';
  const sum = parts !== undefined && parts > 1 ? ` of ${parts} parts` : '';
  switch (of) {
    case 'distance': {
      const ways = along?.map((way, i) => `${'xyz'[i]} ${formatNumber(way / (metresPer(unit) ?? 1) + 0, 5)}`);
      return `${formatLength(value, unit, 6)}${ways ? ` (${ways.join(', ')} ${unit})` : ''}`;
    }
    case 'angle':
      return `${formatNumber((value * 180) / Math.PI, 6)}°`;
    case 'radius':
      return `r ${formatLength(value, unit, 6)}, ⌀ ${formatLength(2 * value, unit, 6)}`;
    case 'area':
      return `${formatArea(value, unit)}${sum}${from}`;
    case 'volume':
      return `${formatVolume(value, unit)}${sum}${from}`;
    case 'mass':
      return `${formatMass(value)}${sum}${from}`;
  }
}

/** The value alone, for where there is little room. */
export function measuredShort(measured: Measured, unit: string): string {
  return measured.of === 'distance'
    ? formatLength(measured.value, unit, 6)
    : measuredWords({ ...measured, isExact: undefined }, unit);
}
