// Free surfaces on which the kernel stops short of the limit: an open file of occt-misc and gmsh-doc, and a mesh spoiled by hand.
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { unpackMesh } from '../mesh/mesh.ts';
import { readStep } from '../read/step/step.ts';
import { MemoryBlobs } from '../memoryStores.ts';
import { atLength } from '../testing/atLength.ts';
import { openEdges } from '../testing/closed.ts';
import { modelOf } from '../testing/reading.ts';
import { startKernel } from '../testing/solids.ts';
import type { ExactFace, FacesMesh } from './faces.ts';
import { nearer } from './nearer.ts';
import { tessellate } from './tessellate.ts';

beforeAll(() => startKernel(loadKernel));

const NEAR =
  'a solid with free surfaces keeps a limit of 0.002 mm, where the kernel alone exceeds it 2.8 times, and stays closed';
atLength(NEAR, async () => {
  const blobs = new MemoryBlobs();
  const scene = await readStep({ name: 'c.step', bytes: modelOf('component8.step').bytes }, 's').build(blobs);
  const [info] = Object.values(scene.solids);
  const { blob, figures } = await tessellate({
    text: await blobs.get(info.text),
    limits: { chord: 2e-6, angle: 0.5 },
  });
  expect(figures.exact?.max).toBeLessThanOrEqual(2e-6 * 1.05);
  expect(openEdges(unpackMesh(blob))).toBe(0);
});

describe('triangles far from their surface', () => {
  /** A square of parameters on the saddle z = uv, as two triangles: their common edge runs 25 mm from it in the middle. */
  const saddle = (): FacesMesh => ({
    positions: Float32Array.from([0, 0, 0, 10, 0, 0, 10, 10, 100, 0, 10, 0]),
    normals: Float32Array.from([0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1]),
    parameters: Float64Array.from([0, 0, 10, 0, 10, 10, 0, 10]),
    triangles: Uint32Array.from([0, 1, 2, 0, 2, 3]),
    firstVertex: Uint32Array.of(0, 4),
    firstIndex: Uint32Array.of(0, 6),
  });
  const face = { surface: { kind: 'other', at: (u: number, v: number) => [u, v, u * v] } } as unknown as ExactFace;

  it('are divided inside their face, on the surface, and never on its border', () => {
    const refined = nearer(saddle(), [face], 0.5);
    expect(refined.triangles.length).toBeGreaterThan(6);
    for (let v = 0; v < refined.positions.length; v += 3) {
      const [x, y, z] = refined.positions.subarray(v, v + 3);
      expect(z).toBeCloseTo(x * y, 4);
      const onBorder = [x, y].some((value) => value === 0 || value === 10);
      if (onBorder) expect(v / 3).toBeLessThan(4);
    }
  });

  it('stay as they are within the limit, or where no parameters are known', () => {
    const mesh = saddle();
    expect(nearer(mesh, [face], 100)).toBe(mesh);
    const { parameters: _, ...bare } = saddle();
    expect(nearer(bare, [face], 0.5)).toBe(bare);
  });
});
