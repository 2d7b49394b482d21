// Where a corner appears is told by the camera of three.js.
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { corners } from '@noble-prism/core/scene/tree';
import type { Box } from '@noble-prism/core/scene/types';
import { standpoint } from './framing.ts';

const LENS = { degrees: 36, aspect: 1.5, free: 0.8 };

describe('the point to stand at', () => {
  it.each<[string, Box, Vector3]>([
    ['a machine', { min: [-1, 0, -2], max: [3, 2, 1] }, new Vector3(0.62, 0.42, 0.9)],
    ['a mast', { min: [0, 0, 0], max: [0.2, 30, 0.2] }, new Vector3(1, 0, 0)],
    ['a floor from above', { min: [0, 0, 0], max: [40, 0.1, 10] }, new Vector3(0, 1, 0)],
    ['a bolt', { min: [0.001, 0.001, 0.001], max: [0.005, 0.004, 0.009] }, new Vector3(-1, 0.2, 0.3)],
  ])('shows all of %s, as large as can be', (_, box, back) => {
    const from = standpoint(box, back.normalize(), LENS);
    const camera = new PerspectiveCamera(LENS.degrees, LENS.aspect, 1e-4, 1e4);
    camera.position.copy(from);
    if (Math.abs(back.y) > 0.999) camera.up.set(0, 0, -1);
    camera.lookAt(new Vector3(...box.min).add(new Vector3(...box.max)).multiplyScalar(0.5));
    camera.updateMatrixWorld();
    const seen = corners(box).map((corner) => new Vector3(...corner).project(camera));
    const most = Math.max(...seen.flatMap(({ x, y }) => [Math.abs(x), Math.abs(y)]));
    // The free part ends at 0.8 of half the picture, and something reaches it.
    expect(most).toBeCloseTo(LENS.free, 6);
  });

  it('keeps away from a box without size', () => {
    const from = standpoint({ min: [1, 1, 1], max: [1, 1, 1] }, new Vector3(0, 0, 1), LENS);
    expect(from.z).toBeGreaterThan(1);
  });
});
