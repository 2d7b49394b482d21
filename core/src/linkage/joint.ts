/** A joint of a linkage, and how far one of its bodies has gone in it. */
import { lengthOf, minus } from '../measure/circle.ts';
import { cross, dot, IDENTITY, multiply, transformPoint, translation } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { rotationAbout } from '../scene/rotation.ts';

export type JointKind = 'hinge' | 'slide';

/** Where a joint is in one of its bodies: in the world, as the bodies stand before anything is driven. Metres, directions of length one. */
export interface Seat {
  point: Vector;
  /** About which it turns, or along which it slides. */
  axis: Vector;
  /** Across the axis: a turn is told by it. */
  across: Vector;
}

export interface Joint {
  name: string;
  kind: JointKind;
  /** Number of the body that it is on; -1 for what stands still. */
  base: number;
  part: number;
  inBase: Seat;
  inPart: Seat;
  /** How far it may go, radians or metres from where it was named; without end where nothing is said. */
  least?: number;
  greatest?: number;
}

/** A seat after its body has moved. */
export function seatAt(moved: Matrix, { point, axis, across }: Seat): Seat {
  return { point: transformPoint(moved, point), axis: turned(moved, axis), across: turned(moved, across) };
}

/** A direction after a rigid movement. */
export function turned([a, b, c, , d, e, f, , g, h, i]: Matrix, [x, y, z]: Vector): Vector {
  return [a * x + d * y + g * z, b * x + e * y + h * z, c * x + f * y + i * z];
}

/** How far the part has gone from where the joint was named: radians between half turns, or metres. */
export function valueOf({ kind }: Pick<Joint, 'kind'>, base: Seat, part: Seat): number {
  if (kind === 'slide') return dot(minus(part.point, base.point), base.axis);
  return Math.atan2(dot(cross(base.across, part.across), base.axis), dot(base.across, part.across));
}

/** What a body does that goes on in a joint whose base stays: about the axis, or along it. */
export function movementIn({ kind }: Pick<Joint, 'kind'>, { point, axis }: Seat, by: number): Matrix {
  if (by === 0) return IDENTITY;
  if (kind === 'slide') return translation([axis[0] * by, axis[1] * by, axis[2] * by]);
  const back: Vector = [-point[0], -point[1], -point[2]];
  return multiply(translation(point), multiply(rotationAbout(axis, by), translation(back)));
}

/**
 * How far the seats of both bodies are from being one, as the joint asks for it: zero where it is closed. Lengths as shares of a length.
 * A hinge: the points meet, the axes are parallel. A slide: the points meet but for the way along the axis, nothing is turned.
 */
export function gapOf({ kind }: Pick<Joint, 'kind'>, base: Seat, part: Seat, length: number): number[] {
  const way = minus(part.point, base.point);
  const axes = minus(part.axis, base.axis);
  if (kind === 'hinge') return [...way.map((value) => value / length), ...axes];
  const along = dot(way, base.axis);
  const off = way.map((value, i) => (value - along * base.axis[i]) / length);
  return [...off, ...axes, ...minus(part.across, base.across)];
}

/** Metres between the points of a joint that should be one; of a slide off its axis. */
export function apart({ kind }: Pick<Joint, 'kind'>, base: Seat, part: Seat): number {
  const way = minus(part.point, base.point);
  if (kind === 'hinge') return lengthOf(way);
  const along = dot(way, base.axis);
  return lengthOf([way[0] - along * base.axis[0], way[1] - along * base.axis[1], way[2] - along * base.axis[2]]);
}
