import { describe, expect, it } from 'vitest';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { Box } from '@noble-prism/core/scene/types';
import { middleOf, SectionBox, withFace } from './sectionBox.ts';

const box: Box = { min: [-1, 0, 10], max: [3, 2, 16] };
const at = (x: number, y: number, z: number) => ({ x, y, z });

describe('a section box', () => {
  it('draws what is inside, what ends at it too, and everything where there is none', () => {
    const section = new SectionBox();
    expect(section.holds(at(1e6, 0, 0))).toBe(true);
    section.set(box);
    expect(section.planes).toHaveLength(6);
    expect([at(0, 1, 12), at(-1, 0, 10), at(3, 2, 16)].map((point) => section.holds(point))).toEqual([
      true,
      true,
      true,
    ]);
    for (const [axis, name] of ['x', 'y', 'z'].entries())
      for (const out of [box.min[axis] - 0.01, box.max[axis] + 0.01])
        expect(section.holds({ ...at(0, 1, 12), [name]: out })).toBe(false);
    section.set(undefined);
    expect(section.group.visible).toBe(false);
  });

  it('is taken hold of at the middle of a face', () => {
    const section = new SectionBox();
    section.set(box);
    const pixels = ([x, y, z]: Vector) => Math.hypot(x - 3, y - 1, z - 13.05) * 100;
    expect(section.faceAt(pixels, 12)).toEqual({ axis: 0, end: 'max' });
    expect(section.faceAt(pixels, 3)).toBeUndefined();
    expect(middleOf(box, { axis: 2, end: 'min' })).toEqual([1, 1, 10]);
  });

  it('keeps a thickness, however far a face is dragged', () => {
    expect(withFace(box, { axis: 0, end: 'max' }, 2).max).toEqual([2, 2, 16]);
    const thin = withFace(box, { axis: 0, end: 'min' }, 99);
    expect(thin.min[0]).toBeLessThan(3);
    expect(thin.min[0]).toBeGreaterThan(2.99);
    expect(withFace(box, { axis: 1, end: 'max' }, -50).max[1]).toBeGreaterThan(0);
    expect(box.max).toEqual([3, 2, 16]);
  });
});
