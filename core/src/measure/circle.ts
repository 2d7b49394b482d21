/** Circles from points: through three of them, and fitted to many by least squares. */
import { cross, dot, normalize } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';

export interface Circle {
  centre: Vector;
  /** Unit vector across the plane of the circle. */
  normal: Vector;
  radius: number;
}

export interface FittedCircle extends Circle {
  /** Farthest that a point lies from the circle, in its plane or out of it; in the unit of the points. */
  residual: number;
}

export const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const plus = (a: Vector, b: Vector, t = 1): Vector => [a[0] + t * b[0], a[1] + t * b[1], a[2] + t * b[2]];
export const lengthOf = (v: Vector): number => Math.hypot(...v);

/**
 * The circle through three points, by the barycentric formula of the circumcentre (any handbook of geometry). Undefined where they lie
 * on one line.
 */
export function circleThrough(a: Vector, b: Vector, c: Vector): Circle | undefined {
  const [ab, ac] = [minus(b, a), minus(c, a)];
  const across = cross(ab, ac);
  const square = dot(across, across);
  // Against the lengths: a micrometre of sagitta in a metre is still a circle, rounding is not.
  if (!(square > 1e-14 * dot(ab, ab) * dot(ac, ac))) return undefined;
  const first = cross(across, ab);
  const second = cross(ac, across);
  const [bb, cc] = [dot(ac, ac) / (2 * square), dot(ab, ab) / (2 * square)];
  const toCentre: Vector = [
    first[0] * bb + second[0] * cc,
    first[1] * bb + second[1] * cc,
    first[2] * bb + second[2] * cc,
  ];
  return { centre: plus(a, toCentre), normal: normalize(across), radius: lengthOf(toCentre) };
}

/**
 * The circle that fits points best: the plane by Newell's normal through the centroid, in it the algebraic fit of Kåsa (1976), whose
 * three unknowns are linear. Points that lie on a circle give that circle. Undefined for fewer than three, or points on one line.
 */
export function fitCircle(points: readonly Vector[]): FittedCircle | undefined {
  if (points.length < 3) return undefined;
  const n = points.length;
  const centroid = points.reduce<Vector>((sum, point) => plus(sum, point, 1 / n), [0, 0, 0]);
  let normal: Vector = [0, 0, 0];
  let reach = 0;
  points.forEach((point, i) => {
    const [p, q] = [minus(point, centroid), minus(points[(i + 1) % n], centroid)];
    normal = plus(normal, cross(p, q));
    reach = Math.max(reach, lengthOf(p));
  });
  if (!(lengthOf(normal) > 1e-7 * reach * reach)) return undefined;
  normal = normalize(normal);
  const x = normalize(plus(minus(points[0], centroid), normal, -dot(minus(points[0], centroid), normal)));
  const y = cross(normal, x);
  // Sums of the normal equations, around the centroid and in units of the reach, so that nothing is lost to rounding.
  let [xx, xy, yy, xz, yz, zz] = [0, 0, 0, 0, 0, 0];
  for (const point of points) {
    const from = minus(point, centroid);
    const [px, py] = [dot(from, x) / reach, dot(from, y) / reach];
    const square = px * px + py * py;
    xx += px * px;
    xy += px * py;
    yy += py * py;
    xz += px * square;
    yz += py * square;
    zz += square;
  }
  const determinant = xx * yy - xy * xy;
  if (!(determinant > 1e-12)) return undefined;
  const cx = (xz * yy - yz * xy) / (2 * determinant);
  const cy = (yz * xx - xz * xy) / (2 * determinant);
  const radius = Math.sqrt(cx * cx + cy * cy + zz / n) * reach;
  const centre = plus(plus(centroid, x, cx * reach), y, cy * reach);
  const residual = Math.max(
    ...points.map((point) => {
      const from = minus(point, centre);
      const off = dot(from, normal);
      return Math.hypot(lengthOf(plus(from, normal, -off)) - radius, off);
    }),
  );
  return { centre, normal, radius, residual };
}
