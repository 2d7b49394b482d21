import { describe, expect, it } from 'vitest';
import { IDENTITY, multiply, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { curvesOf } from './curves.ts';
import { featuresOf, SnapFeatures } from './snapFeatures.ts';
import { centresNear, snapAt, snapWords } from './snap.ts';
import type { Aim } from './snap.ts';

/** A plate of 4 by 2 with a round hole of radius 0.5 at its middle, seen from above: a pixel is a hundredth. */
const PIXEL = 0.01;
const hole = Array.from({ length: 24 }, (_, i): Vector => {
  const angle = (i / 24) * 2 * Math.PI;
  return [2 + 0.5 * Math.cos(angle), 1 + 0.5 * Math.sin(angle), 0];
});
const outline: Vector[] = [[0, 0, 0], [4, 0, 0], [4, 2, 0], [0, 2, 0]]; // prettier-ignore
const ring = (points: readonly Vector[]) =>
  points.flatMap((point, i) => [...point, ...points[(i + 1) % points.length]]);
const features = new SnapFeatures(curvesOf(Float32Array.from([...ring(outline), ...ring(hole)])));

const aimAt = (point: Vector, world: Matrix = IDENTITY, scale = 1): Aim => {
  const at = transformPoint(world, point);
  const pixels = (other: Vector) => Math.hypot(...other.map((value, i) => value - at[i])) / (PIXEL * scale);
  return { row: 7, features, world, point: at, pixels, metresPerPixel: PIXEL * scale };
};
const near = (a: Vector, b: Vector) => a.forEach((value, i) => expect(value).toBeCloseTo(b[i], 5));

describe('what is meant under the pointer', () => {
  it('is a corner before a middle, a middle before an edge, and an edge before the face', () => {
    expect(snapAt(aimAt([0.05, 0.05, 0]))).toMatchObject({ kind: 'corner', point: [0, 0, 0], row: 7 });
    expect(snapAt(aimAt([2.05, 0.03, 0]))).toMatchObject({ kind: 'middle', point: [2, 0, 0], length: 4 });
    const edge = snapAt(aimAt([3.2, 0.05, 0]));
    expect(edge.kind).toBe('edge');
    near(edge.point, [3.2, 0, 0]);
    expect(snapAt(aimAt([3.2, 0.5, 0]))).toEqual({
      kind: 'face',
      point: [3.2, 0.5, 0],
      row: 7,
      by: [{ at: [3.2, 0.5, 0], of: 'face' }],
    });
  });

  it('is on the true circle, not on the segments that stand for it', () => {
    // Between two of the 24 points the segments lie 0.0043 nearer to the centre.
    const angle = Math.PI / 24;
    const snap = snapAt(aimAt([2 + 0.52 * Math.cos(angle), 1 + 0.52 * Math.sin(angle), 0]));
    expect(snap.kind).toBe('edge');
    expect(snap.radius).toBeCloseTo(0.5, 5);
    expect(Math.hypot(snap.point[0] - 2, snap.point[1] - 1)).toBeCloseTo(0.5, 6);
  });

  it('offers the centre of a circle whose rim is under the pointer, and takes it where the pointer is there', () => {
    const [centre, ...others] = centresNear(aimAt([2.52, 1, 0]));
    expect(others).toEqual([]);
    near(centre.point, [2, 1, 0]);
    expect(centre.radius).toBeCloseTo(0.5, 5);
    expect(centresNear(aimAt([3.5, 1, 0]))).toEqual([]);
  });

  it('holds in the world: turned, moved far off and made larger', () => {
    const world = multiply([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5e5, 0, -3e5, 1], [0, 25.4, 0, 0, -25.4, 0, 0, 0, 0, 0, 25.4, 0, 0, 0, 0, 1]); // prettier-ignore
    const snap = snapAt(aimAt([3.98, 0.03, 0], world, 25.4));
    expect(snap.kind).toBe('corner');
    near(snap.point, transformPoint(world, [4, 0, 0]) as Vector);
    const [centre] = centresNear(aimAt([2.52, 1, 0], world, 25.4));
    expect(centre.radius).toBeCloseTo(12.7, 4);
    // A stretched circle is none: its centre stays, a radius is not stated.
    const stretched: Matrix = [2, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
    expect(centresNear(aimAt([2.505, 1, 0], stretched))[0].radius).toBeUndefined();
  });

  it('is the circle of the solid where that is known, and says so', () => {
    const round = { centre: [2.0001, 1, 0] as Vector, normal: [0, 0, 1] as Vector, radius: 0.5002 };
    const aim = {
      ...aimAt([2.505, 1, 0]),
      exact: { faces: [], circles: [round], area: 0, areaCentre: [0, 0, 0] as Vector },
    };
    const snap = snapAt(aim);
    expect(snap).toMatchObject({ radius: 0.5002, isExact: true, axis: [0, 0, 1] });
    expect(snap.point[0]).toBeCloseTo(2.5003, 9);
    expect(snapWords(snap, 'mm').replaceAll('\u00a0', ' ')).toBe('on a circle, r 500.2 mm');
    // One that is elsewhere is another circle.
    const other = { ...aim, exact: { ...aim.exact, circles: [{ ...round, radius: 0.6 }] } };
    expect(snapAt(other).isExact).toBeUndefined();
  });

  it('is named, with lengths in the unit that people said them in', () => {
    const words = (point: Vector, unit: string) => snapWords(snapAt(aimAt(point)), unit).replaceAll('\u00a0', ' ');
    expect(words([0.05, 0.05, 0], 'mm')).toBe('corner');
    expect(words([2.05, 0.03, 0], 'm')).toBe('middle of an edge, 4 m');
    expect(words([2.5, 1.02, 0], 'in')).toBe('on a circle, r 19.685 in from the mesh');
    expect(words([3.2, 0.5, 0], 'mm')).toBe('on a face');
  });
});

it('the grid finds what a look at all curves finds', () => {
  for (let i = 0; i < 200; i++) {
    const point: Vector = [(i * 0.377) % 4, (i * 0.211) % 2, 0];
    const found = new Set(features.near(point, 0.1));
    for (const curve of features.curves) {
      const nearest = featuresOf(curve, point).at(-1)!.point;
      if (Math.hypot(...nearest.map((value, axis) => value - point[axis])) < 0.1) expect(found).toContain(curve);
    }
  }
});

it('the grid finds a large tilted circle all around', () => {
  const around = Array.from({ length: 48 }, (_, i): Vector => {
    const angle = (i / 48) * 2 * Math.PI;
    const [x, y] = [5 * Math.cos(angle), 5 * Math.sin(angle)];
    return [x, y * Math.SQRT1_2, y * Math.SQRT1_2];
  });
  const tilted = new SnapFeatures(curvesOf(Float32Array.from(ring(around))));
  expect(tilted.curves).toHaveLength(1);
  for (const point of around) expect(tilted.near(point, 0.001)).toHaveLength(1);
  expect(tilted.near([0, 0, 0], 0.5)).toHaveLength(0);
});
