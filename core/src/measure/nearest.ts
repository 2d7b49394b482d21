/** The points of curves that are nearest to others. */
import { cross, normalize } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { lengthOf, minus, plus } from './circle.ts';
import type { Arc, Curve } from './curves.ts';

/** The point of a curve that is nearest to another one. */
export function nearestOnCurve(curve: Curve, near: Vector): Vector {
  return curve.kind === 'edge' ? nearestOnSegment(...curve.ends, near) : nearestOnArc(curve, near);
}

export function nearestOnSegment(a: Vector, b: Vector, near: Vector): Vector {
  const way = minus(b, a);
  const square = way[0] ** 2 + way[1] ** 2 + way[2] ** 2;
  const from = minus(near, a);
  const t = square > 0 ? (from[0] * way[0] + from[1] * way[1] + from[2] * way[2]) / square : 0;
  return plus(a, way, Math.max(0, Math.min(1, t)));
}

/** On the true circle, not on the segments that stand for it, as far as the arc goes. */
export function nearestOnArc(arc: Arc, near: Vector): Vector {
  const { centre, normal, radius } = arc;
  const from = minus(near, centre);
  const off = from[0] * normal[0] + from[1] * normal[1] + from[2] * normal[2];
  const inPlane = plus(from, normal, -off);
  // From its middle all of a circle is equally near.
  const way = lengthOf(inPlane) > 0 ? inPlane : cross(normal, Math.abs(normal[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]);
  if (arc.isWhole) return plus(centre, normalize(way), radius);
  const candidates = arc.points.slice(1).map((point, i) => nearestOnSegment(arc.points[i], point, near));
  const best = candidates.reduce((a, b) => (lengthOf(minus(a, near)) <= lengthOf(minus(b, near)) ? a : b));
  return plus(centre, normalize(minus(best, centre)), radius);
}
