// The ruled ground: ten to a hundred lines across, whatever the size, under the model.
import { LineBasicMaterial, LineSegments } from 'three';
import { describe, expect, it } from 'vitest';
import type { Box } from '@noble-prism/core/scene/types';
import { disposeGround, makeGround } from './ground.ts';

const box = (size: number, at = 0): Box => ({ min: [at, at, at], max: [at + size, at + size / 2, at + size] });
const [fine, strong] = [new LineBasicMaterial(), new LineBasicMaterial()];
const ground = (of: Box) => makeGround(of, fine, strong);

describe('the ruled ground', () => {
  it.each([
    ['a bolt of 30 mm', 0.03, 0.001],
    ['a machine of 3 m', 3, 0.1],
    ['a hall of 60 m', 60, 10],
    ['a valley of 4 km', 4000, 1000],
  ])('is ruled for %s', (_, size, pitch) => {
    expect(ground(box(size)).pitch).toBeCloseTo(pitch, 9);
  });

  it('lies just under the model, on lines that stay where they are when the model grows', () => {
    const near = ground(box(3, 100.3));
    for (const child of near.group.children) {
      const positions = (child as LineSegments).geometry.getAttribute('position');
      for (let i = 0; i < positions.count; i++) {
        expect(positions.getY(i)).toBeLessThan(100.3);
        expect(positions.getY(i)).toBeGreaterThan(100.29);
      }
    }
    // Strong lines stand on whole tens of the pitch.
    const strong = (near.group.children[1] as LineSegments).geometry.getAttribute('position');
    const tenths = strong.getX(0) / (near.pitch * 10);
    expect(tenths).toBeCloseTo(Math.round(tenths), 4);
  });

  it('is ruled for a model without any size, and can be put away', () => {
    const flat = ground({ min: [1, 1, 1], max: [1, 1, 1] });
    expect(flat.pitch).toBeGreaterThan(0);
    let freed = 0;
    for (const child of flat.group.children)
      (child as LineSegments).geometry.addEventListener('dispose', () => freed++);
    disposeGround(flat);
    expect(freed).toBe(flat.group.children.length);
  });
});
