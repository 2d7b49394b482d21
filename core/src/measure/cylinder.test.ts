// Points of known cylinders, exact and with known noise; the error of a fit goes with the noise over the root of the count (any handbook of adjustment).
import { describe, expect, it } from 'vitest';
import { cross, dot, normalize } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { randomNumbers } from '../testing/random.ts';
import { lengthOf, minus, plus } from './circle.ts';
import { eigenvectors, fitCylinder } from './cylinder.ts';

/** A share of a cylinder, with normally distributed noise along its normals (Box and Muller 1958). */
function cylinder(seed: number, { radius = 0.3, height = 1, share = 1, noise = 0, count = 400, far = 0 } = {}) {
  const random = randomNumbers(seed);
  const axis = normalize([random() - 0.5, random() - 0.5, random() + 0.2]);
  const point: Vector = [far + random() * 10 - 5, random() * 10 - 5, random() * 10 - 5];
  const u = normalize(cross(axis, [1, 0, 0]));
  const v = cross(axis, u);
  const points: Vector[] = [];
  const normals: Vector[] = [];
  for (let i = 0; i < count; i++) {
    const angle = random() * 2 * Math.PI * share;
    const normal = plus(plus([0, 0, 0], u, Math.cos(angle)), v, Math.sin(angle));
    const normally = Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
    points.push(plus(plus(point, axis, (random() - 0.5) * height), normal, radius + noise * normally));
    normals.push(normal);
  }
  return { axis, point, points, normals, radius };
}

/** Distance of a point from the axis. */
function offAxis(found: Vector, { point, axis }: { point: Vector; axis: Vector }): number {
  const from = minus(found, point);
  return lengthOf(plus(from, axis, -dot(from, axis)));
}

describe('a cylinder fitted to points', () => {
  it.each([
    ['all around', {}],
    ['a quarter of the way around', { share: 0.25 }],
    ['a short ring', { height: 0.02 }],
    ['a long thin one', { radius: 0.002, height: 3 }],
    ['ten kilometres from the origin', { far: 10_000 }],
  ])('on it, %s, is that cylinder', (_, options) => {
    for (let seed = 1; seed <= 5; seed++) {
      const known = cylinder(seed, options);
      const found = fitCylinder(known.points, known.normals)!;
      const exact = 1e-9 * ((options as { far?: number }).far ? 1000 : 1);
      expect(Math.abs(Math.abs(dot(found.axis, known.axis)) - 1)).toBeLessThan(exact);
      expect(offAxis(found.point, known)).toBeLessThan(exact);
      expect(Math.abs(found.radius - known.radius)).toBeLessThan(exact);
      expect(found.residual).toBeLessThan(exact);
    }
  });

  it('with noise comes as near as the noise allows, and states it', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const noise = 0.001;
      const known = cylinder(seed, { noise, count: 2000 });
      const found = fitCylinder(known.points, known.normals)!;
      // Five unknowns of 2000 points: a few times the noise over the root of the count.
      expect(Math.abs(found.radius - known.radius)).toBeLessThan((5 * noise) / Math.sqrt(2000));
      expect(offAxis(found.point, known)).toBeLessThan((6 * noise) / Math.sqrt(2000));
      expect(Math.acos(Math.min(1, Math.abs(dot(found.axis, known.axis))))).toBeLessThan(
        (20 * noise) / Math.sqrt(2000),
      );
      expect(found.residual / noise).toBeCloseTo(1, 1);
      expect(found.worst).toBeGreaterThan(2 * noise);
    }
  });

  it('is none for a plane, a sphere, or too few points', () => {
    const { points, normals } = cylinder(1);
    expect(fitCylinder(points.slice(0, 5), normals.slice(0, 5))).toBeUndefined();
    const flat = points.map(([x, y]): Vector => [x, y, 0]);
    expect(fitCylinder(flat, flat.map((): Vector => [0, 0, 1]))).toBeUndefined(); // prettier-ignore
    const random = randomNumbers(3);
    const ball = Array.from({ length: 300 }, () => normalize([random() - 0.5, random() - 0.5, random() - 0.5]));
    expect(fitCylinder(ball, ball)).toBeUndefined();
  });
});

it('eigenvectors turn a matrix into its values', () => {
  const a = [[4, 1, -2], [1, 2, 0], [-2, 0, 3]]; // prettier-ignore
  const { values, vectors } = eigenvectors(a);
  expect(values[0] + values[1] + values[2]).toBeCloseTo(9, 12);
  vectors.forEach(
    (vector, i) =>
    a.forEach((row, k) => expect(row[0] * vector[0] + row[1] * vector[1] + row[2] * vector[2]).toBeCloseTo(values[i] * vector[k], 10)), // prettier-ignore
  );
});
