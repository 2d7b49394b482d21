// Quarter circles as rational splines are exactly round: weights 1, √½, 1 (Piegl and Tiller, The NURBS Book, 7.3). What only looks round is not taken.
import { describe, expect, it } from 'vitest';
import { composed, transformPoint } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { directionIn } from '../scene/spot.ts';
import { circleOf, cylinderOf } from './recognised.ts';

/** A quarter of a circle of radius one, as a rational quadratic. */
function quarter(t: number): [x: number, y: number] {
  const [a, b, c] = [(1 - t) ** 2, Math.SQRT2 * t * (1 - t), t ** 2];
  const weight = a + b + c;
  return [(a + b) / weight, (b + c) / weight];
}
const there = composed([120, -40, 7], [0.1, 0.7, -0.2, Math.sqrt(1 - 0.01 - 0.49 - 0.04)], [1, 1, 1]);
const SPAN = [0, 1] as const;

describe('a cylinder that is given as a spline', () => {
  const bore = (u: number, v: number): Vector => {
    const [x, y] = quarter(u);
    return transformPoint(there, [12 * x, 12 * y, 30 * v]);
  };

  it('is found with its axis and radius, and which way it faces', () => {
    const found = cylinderOf(bore, SPAN, SPAN)!;
    expect(found).toMatchObject({ kind: 'cylinder', isMirrored: false });
    expect(found.radius).toBeCloseTo(12, 8);
    const axis = directionIn(there, [0, 0, 1]);
    expect(Math.abs(found.axis[0] * axis[0] + found.axis[1] * axis[1] + found.axis[2] * axis[2])).toBeCloseTo(1, 12);
    // With its parameters the other way round it faces inwards.
    expect(cylinderOf((u, v) => bore(v, u), SPAN, SPAN)).toMatchObject({ isMirrored: true });
  });

  it.each([
    ['an ellipse', (u: number, v: number): Vector => [12 * quarter(u)[0], 12.01 * quarter(u)[1], 30 * v]],
    ['a cone', (u: number, v: number): Vector => [(12 + v * 0.01) * quarter(u)[0], (12 + v * 0.01) * quarter(u)[1], 30 * v]],
    ['a ball', (u: number, v: number): Vector => [12 * Math.cos(u) * Math.cos(v), 12 * Math.sin(u) * Math.cos(v), 12 * Math.sin(v)]],
    ['a plane', (u: number, v: number): Vector => [12 * u, 30 * v, 0]],
    ['a bicubic patch', (u: number, v: number): Vector => [12 * u, 30 * v, u * u * (1 - u) * 4]],
    ['a point', (): Vector => [1, 2, 3]],
  ])('is not %s', (_, at) => expect(cylinderOf(at, SPAN, SPAN)).toBeUndefined()); // prettier-ignore

  it('is none without ends', () => {
    expect(cylinderOf(bore, [-Infinity, Infinity], SPAN)).toBeUndefined();
    expect(cylinderOf(bore, [1, 0], SPAN)).toBeUndefined();
  });
});

describe('a circle that is given as a spline', () => {
  const arc = (t: number): Vector => transformPoint(there, [5 * quarter(t)[0], 5 * quarter(t)[1], 0]);

  it('is found with its centre and radius', () => {
    const found = circleOf(arc, SPAN)!;
    expect(found.radius).toBeCloseTo(5, 9);
    found.centre.forEach((value, i) => expect(value).toBeCloseTo(transformPoint(there, [0, 0, 0])[i], 9));
  });

  it.each([
    ['an ellipse', (t: number): Vector => [5 * quarter(t)[0], 5.001 * quarter(t)[1], 0]],
    ['a line', (t: number): Vector => [t, 2 * t, 0]],
    ['a screw', (t: number): Vector => [5 * Math.cos(t), 5 * Math.sin(t), t]],
    ['as good as straight', (t: number): Vector => [1000 * Math.cos(t / 100), 1000 * Math.sin(t / 100), 0]],
  ])('is not %s', (_, at) => expect(circleOf(at, SPAN)).toBeUndefined()); // prettier-ignore
});
