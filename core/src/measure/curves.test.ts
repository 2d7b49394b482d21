import { describe, expect, it } from 'vitest';
import type { Vector } from '../scene/matrix.ts';
import { randomNumbers } from '../testing/random.ts';
import { circleThrough, fitCircle } from './circle.ts';
import { curvesOf } from './curves.ts';

const on = (radius: number, degrees: number, centre: Vector = [0, 0, 0]): Vector => {
  const angle = (degrees * Math.PI) / 180;
  return [centre[0] + radius * Math.cos(angle), centre[1] + radius * Math.sin(angle), centre[2]];
};
const path = (points: readonly Vector[]): number[] => points.slice(1).flatMap((point, i) => [...points[i], ...point]);
const arc = (radius: number, from: number, to: number, pieces: number, centre?: Vector): Vector[] =>
  Array.from({ length: pieces + 1 }, (_, i) => on(radius, from + ((to - from) * i) / pieces, centre));

describe('a circle', () => {
  it('goes through three points: the right triangle’s hypotenuse is its diameter (Thales)', () => {
    const circle = circleThrough([0, 0, 5], [6, 0, 5], [0, 8, 5])!;
    expect(circle.centre).toEqual([3, 4, 5]);
    expect(circle.radius).toBe(5);
    expect(circle.normal.map(Math.abs)).toEqual([0, 0, 1]);
  });

  it('is none through points on one line', () => {
    expect(circleThrough([0, 0, 0], [1, 1, 1], [2, 2, 2])).toBeUndefined();
    expect(fitCircle([[0, 0, 0], [1, 0, 0], [5, 0, 0]])).toBeUndefined(); // prettier-ignore
  });

  it('fits points on it to rounding, far from zero too, and points with known noise as near as that', () => {
    const far: Vector = [4e5, -7e5, 120];
    const exact = fitCircle(arc(0.25, 10, 140, 12, far))!;
    expect(exact.radius).toBeCloseTo(0.25, 8);
    exact.centre.forEach((value, i) => expect(value).toBeCloseTo(far[i], 7));
    const random = randomNumbers(3);
    const noisy = arc(2, 0, 350, 400).map(([x, y, z]): Vector => {
      const off = () => (random() - 0.5) * 0.02;
      return [x + off(), y + off(), z + off()];
    });
    const fit = fitCircle(noisy)!;
    // 400 points with noise of ±0.01: the mean is surer by the root of their number.
    expect(Math.abs(fit.radius - 2)).toBeLessThan(0.002);
    expect(fit.residual).toBeGreaterThan(0.005);
    expect(fit.residual).toBeLessThan(0.02);
  });
});

describe('the curves of feature edges', () => {
  it('are a whole circle where a chain closes on one', () => {
    const ring = arc(3, 0, 360, 24, [10, 0, 2]);
    ring[24] = ring[0];
    const [only, ...others] = curvesOf(Float32Array.from(path(ring)));
    expect(others).toEqual([]);
    expect(only).toMatchObject({ kind: 'arc', isWhole: true });
    if (only.kind !== 'arc') throw new Error();
    expect(only.radius).toBeCloseTo(3, 5);
    expect(only.centre[0]).toBeCloseTo(10, 5);
  });

  it('are two straight edges and two half circles of a slot', () => {
    // Two centres 8 apart, radius 2; both tangents join without a corner.
    const right = arc(2, -90, 90, 12, [8, 0, 0]);
    const left = arc(2, 90, 270, 12);
    left[12] = [...left[12]];
    const outline = [...right, ...left, right[0]];
    const curves = curvesOf(Float32Array.from(path(outline)));
    const edges = curves.filter(({ kind }) => kind === 'edge');
    const arcs = curves.flatMap((curve) => (curve.kind === 'arc' ? [curve] : []));
    expect([edges.length, arcs.length]).toEqual([2, 2]);
    expect(arcs.map(({ radius }) => radius.toFixed(4))).toEqual(['2.0000', '2.0000']);
    expect(arcs.map(({ centre }) => Math.round(centre[0])).sort()).toEqual([0, 8]);
    for (const edge of edges) {
      if (edge.kind !== 'edge') continue;
      expect(Math.hypot(...edge.ends[0].map((value, i) => value - edge.ends[1][i]))).toBeCloseTo(8, 5);
    }
  });

  it('of a box are twelve straight edges, each whole though it is drawn in pieces', () => {
    const corners = [0, 1].flatMap((x) => [0, 1].flatMap((y) => [0, 1].map((z): Vector => [x, y, z])));
    const edges: number[] = [];
    for (const [i, a] of corners.entries())
      for (const b of corners.slice(i + 1)) {
        if (a.filter((value, axis) => value !== b[axis]).length !== 1) continue;
        const middle = a.map((value, axis) => (value + b[axis]) / 2) as unknown as Vector;
        edges.push(...a, ...middle, ...middle, ...b);
      }
    const curves = curvesOf(Float32Array.from(edges));
    expect(curves.map(({ kind }) => kind)).toEqual(new Array(12).fill('edge'));
    for (const curve of curves)
      if (curve.kind === 'edge')
        expect(Math.hypot(...curve.ends[0].map((value, i) => value - curve.ends[1][i]))).toBe(1);
  });

  it('of a polygon with corners are its sides, and no circle', () => {
    const hexagon = arc(1, 0, 360, 6);
    hexagon[6] = hexagon[0];
    expect(curvesOf(Float32Array.from(path(hexagon))).map(({ kind }) => kind)).toEqual(new Array(6).fill('edge'));
  });

  it('are found though segments come twice, in either direction, or have no length', () => {
    const ring = arc(1, 0, 360, 16);
    ring[16] = ring[0];
    const forth = path(ring);
    const back = path([...ring].reverse());
    const curves = curvesOf(Float32Array.from([...forth, ...back, 5, 5, 5, 5, 5, 5]));
    expect(curves).toHaveLength(1);
    expect(curves[0]).toMatchObject({ kind: 'arc', isWhole: true });
  });
});
