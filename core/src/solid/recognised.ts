/**
 * Cylinders and circles that a file gives as splines: programs write them so, and they are what they are all the same. Told by points of
 * them, that have to lie on the round shape to a millionth of its radius.
 */
import { fitCircle, lengthOf, minus } from '../measure/circle.ts';
import type { Circle } from '../measure/circle.ts';
import { fitCylinder } from '../measure/cylinder.ts';
import { cross, dot } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import type { Form } from './exactSurface.ts';

/** Parameters from the least to the greatest. */
type Span = readonly [low: number, high: number];

/** Points across a face each way, and along an edge; more than a spline of low degree could pass through by chance. */
const ACROSS = 7;
const ALONG = 13;
/** Share of the radius, and millimetres: how far a point may lie off. */
const OFF = 1e-6;
const LEAST_OFF = 1e-7;
/** Part of a span that derivatives are taken over. */
const STEP = 1e-5;

/** @param at a point of the surface by its parameters, millimetres. @returns the cylinder that it is; undefined where it is none */
export function cylinderOf(at: (u: number, v: number) => Vector, [u0, u1]: Span, [v0, v1]: Span): Form | undefined {
  if (![u0, u1, v0, v1].every(Number.isFinite) || !(u1 > u0) || !(v1 > v0)) return undefined;
  const points: Vector[] = [];
  const normals: Vector[] = [];
  const [du, dv] = [(u1 - u0) * STEP, (v1 - v0) * STEP];
  for (let i = 0; i < ACROSS; i++)
    for (let j = 0; j < ACROSS; j++) {
      // A little within the ends, where the derivatives are taken on both sides.
      const u = u0 + ((u1 - u0) * (i + 0.5)) / ACROSS;
      const v = v0 + ((v1 - v0) * (j + 0.5)) / ACROSS;
      points.push(at(u, v));
      const normal = cross(minus(at(u + du, v), at(u - du, v)), minus(at(u, v + dv), at(u, v - dv)));
      const length = lengthOf(normal);
      if (!(length > 0)) return undefined;
      normals.push([normal[0] / length, normal[1] / length, normal[2] / length]);
    }
  const fitted = fitCylinder(points, normals);
  if (!fitted || fitted.worst > Math.max(LEAST_OFF, OFF * fitted.radius)) return undefined;
  const { point, axis, radius } = fitted;
  // Outwards from the axis, or the parameters run the other way round.
  const isMirrored = dot(normals[0], minus(points[0], point)) < 0;
  return { kind: 'cylinder', point, axis, radius, slope: 0, minor: 0, isMirrored };
}

/** @param at a point of the curve by its parameter, millimetres. @returns the circle that it lies on; undefined where it is on none */
export function circleOf(at: (t: number) => Vector, [from, to]: Span): Circle | undefined {
  if (![from, to].every(Number.isFinite) || !(to > from)) return undefined;
  const points = Array.from({ length: ALONG }, (_, i) => at(from + ((to - from) * i) / ALONG));
  const circle = fitCircle(points);
  if (!circle || circle.residual > Math.max(LEAST_OFF, OFF * circle.radius)) return undefined;
  // What is as good as straight is no circle that somebody means.
  const reach = Math.max(...points.map((point) => lengthOf(minus(point, points[0]))));
  return circle.radius > 20 * reach
    ? undefined
    : { centre: circle.centre, normal: circle.normal, radius: circle.radius };
}
