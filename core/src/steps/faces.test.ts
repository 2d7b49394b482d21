import { describe, expect, it } from 'vitest';
import { MemoryBlobs, memorySurroundings } from '../memoryStores.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { painted } from '../mesh/paint.ts';
import { evaluate } from '../preparation/evaluate.ts';
import type { Scene } from '../scene/types.ts';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PaintedFace } from './faces.ts';
import { checkSteps } from './kinds.ts';

/** The middle of the face of a box of one metre around the origin that looks along an axis. */
const FACES = { right: { at: [0.5, 0, 0], normal: [1, 0, 0] }, top: { at: [0, 0.5, 0], normal: [0, 1, 0] } } as const; // prettier-ignore
const face = (on: string, of: keyof typeof FACES, material: string): PaintedFace => ({ on, at: [...FACES[of].at], normal: [...FACES[of].normal], angle: 0.35, material }) as unknown as PaintedFace; // prettier-ignore

const triangleCount = ({ groups }: Mesh) => groups.map(({ slot, count }) => [slot, count / 3]);
/** Area of a slot, square metres. */
function areaOf({ positions: p, indices, groups }: Mesh, slot: number): number {
  let sum = 0;
  for (const { start, count } of groups.filter((group) => group.slot === slot))
    for (let i = start; i < start + count; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => indices[i + k] * 3);
      const [u, v] = [b, c].map((end) => [0, 1, 2].map((k) => p[end + k] - p[a + k]));
      sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    }
  return sum;
}

async function applied(scene: Scene, blobs: MemoryBlobs, faces: PaintedFace[]) {
  const steps = checkSteps([{ id: 'f', kind: 'faces', on: true, selector: { by: 'all' }, parameters: { faces } }]);
  const { scene: after, reports } = await evaluate(scene, 'k', steps, memorySurroundings({ blobs }));
  const parts = [...after.nodes].filter(({ kind }) => kind === 'part');
  return {
    after,
    parts,
    problems: reports[0].problems,
    mesh: async (i: number) => unpackMesh(await blobs.get(parts[i].mesh!)),
  };
}

describe('painted faces', () => {
  it('have slots of their own: one side of a unit box is a square metre', () => {
    const { mesh, made, before } = painted(boxMesh(1, 1, 1), [face('', 'right', 'm'), face('', 'top', 'm')]);
    expect([before, made]).toEqual([1, [{ seed: 0, from: 0 }, { seed: 1, from: 0 }]]); // prettier-ignore
    expect(triangleCount(mesh)).toEqual([[0, 8], [1, 2], [2, 2]]); // prettier-ignore
    expect([0, 1, 2].map((slot) => areaOf(mesh, slot))).toEqual([4, 1, 1]);
  });

  it('are what turns up to an angle on a mesh, and nothing where a seed lies beside it', () => {
    const ball = ballMesh(1, 12);
    const seed = { at: [0, 0, 1], normal: [0, 0, 1] } as const;
    const slots = (angle: number) => painted(ball, [{ ...seed, angle } as never]).mesh.groups.map(({ count }) => count);
    expect(slots(Math.PI / 2)).toEqual([ball.indices.length]);
    expect(slots(0.001)[1]).toBeLessThan(ball.indices.length / 10);
    const beside = painted(ball, [{ at: [9, 0, 0], normal: [1, 0, 0], angle: 0.3 }]);
    expect([beside.made, beside.missed]).toEqual([[], [0]]);
  });

  it('lie on their surface where that is known, over all edges between them', () => {
    // Half of a coarse cylinder: its triangles turn by more than the angle, and lie on one surface all the same.
    const [positions, indices] = [[] as number[], [] as number[]];
    for (let i = 0; i <= 6; i++) for (const z of [0, 1]) positions.push(Math.cos((i * Math.PI) / 6), Math.sin((i * Math.PI) / 6), z); // prettier-ignore
    for (let i = 0; i < 6; i++) indices.push(2 * i, 2 * i + 2, 2 * i + 1, 2 * i + 1, 2 * i + 2, 2 * i + 3);
    const mesh = { ...boxMesh(1, 1, 1), positions: Float32Array.from(positions), indices: Uint32Array.from(indices), groups: [{ slot: 0, start: 0, count: indices.length }] }; // prettier-ignore
    const seed = { at: [Math.cos(0.1), Math.sin(0.1), 0.5], normal: [1, 0, 0], angle: 0.1 } as never as PaintedFace;
    const surface = { kind: 'cylinder', point: [0, 0, 0], axis: [0, 0, 1], radius: 1 } as const;
    expect(triangleCount(painted(mesh, [{ ...seed, surface }]).mesh)).toEqual([[1, 12]]);
    expect(triangleCount(painted(mesh, [seed]).mesh)).toEqual([[0, 10], [1, 2]]); // prettier-ignore
  });

  it('leave parts of the same shape one shape, each with its own materials', async () => {
    const box = boxMesh(1, 1, 1);
    const { scene, blobs } = await sceneWith([
      { name: 'Wall 1', mesh: box, materials: ['white'] },
      { name: 'Wall 2', mesh: box, materials: ['grey'] },
    ]);
    const { parts, mesh, problems } = await applied(scene, blobs, [
      face('/Wall 1', 'right', 'lib:concrete'),
      face('/Wall 2', 'top', 'lib:glass'),
    ]);
    expect(parts[0].mesh).toBe(parts[1].mesh);
    expect(parts.map(({ materials }) => materials)).toEqual([
      ['white', 'lib:concrete', 'white'],
      ['grey', 'grey', 'lib:glass'],
    ]);
    expect([areaOf(await mesh(0), 1), areaOf(await mesh(1), 2)]).toEqual([1, 1]);
    expect(problems).toEqual([]);
  });

  it('name the part that is gone, the point that is nowhere, and the material that nobody has', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Wall', mesh: boxMesh(1, 1, 1), materials: ['white'] }]);
    const { problems, after } = await applied(scene, blobs, [
      face('/Gone', 'right', 'lib:concrete'),
      { ...face('/Wall', 'top', 'lib:glass'), at: [5, 5, 5] },
      face('/Wall', 'top', 'nobody'),
    ]);
    expect(problems).toEqual([
      'Face 1: its part is no longer there: /Gone.',
      'Face 3 gets the material nobody, which neither library nor job has.',
      'Face 2: there is no face at its point any more, on Wall.',
    ]);
    // The third is a face, with the material that the part has.
    expect([...after.nodes][0].materials).toEqual(['white', 'white']);
  });

  it('are refused without a point, a part or a material', () => {
    const whole = face('/Wall', 'top', 'lib:glass');
    for (const part of ['on', 'at', 'normal', 'angle', 'material'] as const) {
      const { [part]: _, ...rest } = whole;
      const step = { id: 'f', kind: 'faces', on: true, selector: { by: 'all' }, parameters: { faces: [rest] } };
      expect(() => checkSteps([step])).toThrow(expect.objectContaining({ code: 'bad-parameters' }));
    }
  });
});
