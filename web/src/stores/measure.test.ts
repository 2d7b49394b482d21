// Measuring by clicks: two points for a distance, three for an angle, one circle or three points for a radius; one more begins anew.
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Snap } from '@noble-prism/core/measure/snap';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { useMeasure } from './measure.ts';

const at = (...point: [number, number, number]): Snap => ({ kind: 'corner', point, row: 0 });

describe('measuring', () => {
  beforeEach(() => setActivePinia(createPinia()));

  it('a distance takes two points, and says the way along the axes', () => {
    const measure = useMeasure();
    measure.toggle();
    measure.add(at(1, 0, 0));
    expect(measure.measured).toBeUndefined();
    measure.add(at(1, 3, -4));
    expect(measure.measured).toMatchObject({ of: 'distance', value: 5, along: [0, 3, -4] });
    measure.add(at(9, 9, 9));
    expect(measure.points).toEqual([[9, 9, 9]]);
  });

  it('an angle takes three, the second being its corner', () => {
    const measure = useMeasure();
    measure.choose('angle');
    for (const point of [[1, 0, 0], [0, 0, 0], [1, 1, 0]] as Vector[]) measure.add(at(...point));
    expect(measure.measured?.value).toBeCloseTo(Math.PI / 4, 12);
    expect(measure.way).toBeUndefined();
    measure.choose('angle');
    for (let i = 0; i < 3; i++) measure.add(at(0, 0, 0));
    // All on one spot: no angle, and all were taken.
    expect(measure).toMatchObject({ measured: undefined, isWhole: true });
  }); // prettier-ignore

  it('a radius takes a circle at once, by three points on it, or three points one by one', () => {
    const measure = useMeasure();
    measure.choose('radius');
    measure.add({ kind: 'edge', point: [5, 2, 1], row: 0, radius: 2, centre: [5, 2, 3], axis: [0, 1, 0] });
    expect(measure.measured?.value).toBeCloseTo(2, 12);
    for (const point of measure.points) {
      expect(Math.hypot(point[0] - 5, point[2] - 3)).toBeCloseTo(2, 12);
      expect(point[1]).toBeCloseTo(2, 12);
    }
    measure.choose('radius');
    for (const point of [[1, 0, 0], [0, 1, 0], [-1, 0, 0]] as Vector[]) measure.add(at(...point));
    expect(measure.measured?.value).toBeCloseTo(1, 12);
    measure.choose('radius');
    for (const x of [0, 1, 2]) measure.add(at(x, 0, 0));
    expect(measure).toMatchObject({ measured: undefined, isWhole: true });
  }); // prettier-ignore

  it('ends with what was taken', () => {
    const measure = useMeasure();
    measure.toggle();
    measure.add(at(0, 0, 0));
    measure.stop();
    expect(measure).toMatchObject({ active: false, points: [] });
  });
});
