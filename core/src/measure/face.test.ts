// Areas by the formulas of any handbook: of a bore 2πrh, of a ring π(R² − r²); the shape is made by the kernel from its sizes alone.
import { makeCylinder } from 'replicad';
import type { Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { unpackMesh } from '../mesh/mesh.ts';
import { neighboursOf, normalOf } from '../mesh/region.ts';
import { composed, IDENTITY } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { readExact } from '../solid/readExact.ts';
import { tessellate } from '../solid/tessellate.ts';
import { startKernel, stepOf } from '../testing/solids.ts';
import { formatArea } from '../units.ts';
import { faceOf, faceWords } from './face.ts';
import type { PickedFace } from './face.ts';

beforeAll(() => startKernel(loadKernel));

/** A bush of 25 with a bore of 10, 60 high: millimetres. */
async function bush() {
  const text = await stepOf(makeCylinder(25, 60).cut(makeCylinder(10, 60)) as Shape3D);
  const { blob, figures } = await tessellate({ text, limits: { chord: 5e-4, angle: 0.6 } });
  return { mesh: unpackMesh(blob), exact: await readExact({ text }), deviation: figures.exact?.max ?? 0 };
}

type Bush = Awaited<ReturnType<typeof bush>>;

/** The face at each triangle. */
function facesOf({ mesh, exact, deviation }: Bush, world: Matrix, solid = true): PickedFace[] {
  const { positions, indices } = mesh;
  const neighbours = neighboursOf(mesh);
  const out: PickedFace[] = [];
  for (let triangle = 0; triangle < indices.length / 3; triangle++) {
    const corner = [0, 1, 2].map((k) => positions.subarray(indices[triangle * 3 + k] * 3, indices[triangle * 3 + k] * 3 + 3));
    const point = [0, 1, 2].map((axis) => (corner[0][axis] + corner[1][axis] + corner[2][axis]) / 3) as unknown as Vector;
    out.push(faceOf({ row: 3, mesh: 'm', positions, indices, neighbours, triangle, normal: normalOf(mesh, triangle), point, world, exact: solid ? exact : undefined, deviation, angle: 0.7 }));
  }
  return out;
} // prettier-ignore

const plain = (text: string) => text.replace(/[\u00a0\u2009]/g, ' ');

describe('a face of a solid', () => {
  it('is all of it, with the area that it has by its formula', async () => {
    const made = await bush();
    const faces = facesOf(made, IDENTITY);
    const words = new Set(faces.map((face) => plain(faceWords(face, 'mm'))));
    expect([...words].sort()).toEqual(['hole, r 10 mm, 3 770 mm²', 'plane, 1 649 mm²', 'shaft, r 25 mm, 9 425 mm²']);
    for (const { isExact, area, face } of faces) {
      expect(isExact).toBe(true);
      const wanted = face?.surface.kind === 'plane' ? Math.PI * (625 - 100) : 2 * Math.PI * 60 * (face?.isHollow ? 10 : 25);
      expect(Math.abs(area * 1e6 - wanted)).toBeLessThan(1e-9 * wanted);
    }
    // Four faces cover the mesh, each triangle once.
    const triangles = new Map(faces.map((face) => [face.triangles.join(), face.triangles.length]));
    expect([...triangles.values()].reduce((a, b) => a + b, 0)).toBe(made.mesh.indices.length / 3);
  }); // prettier-ignore

  it('grows with its place, and its axis stands there', async () => {
    const world = composed([100, 200, 300], [Math.SQRT1_2, 0, 0, Math.SQRT1_2], [2, 2, 2]);
    const hole = facesOf(await bush(), world).find(({ face }) => face?.isHollow);
    expect(hole?.area).toBeCloseTo(2 * Math.PI * 0.01 * 0.06 * 4, 12);
    // z was turned to -y, and the axis goes through where the origin went.
    const { point = [0, 0, 0], direction = [0, 0, 0] } = hole?.axis ?? {};
    expect(Math.abs(direction[1])).toBeCloseTo(1, 12);
    expect(point[0]).toBeCloseTo(100, 9);
    expect(point[2]).toBeCloseTo(300, 9);
    expect(plain(faceWords(hole!, 'mm'))).toContain('r 20 mm');
  });

  it('that is stretched unevenly has the area of its triangles, and no radius', async () => {
    const faces = facesOf(await bush(), composed([0, 0, 0], [0, 0, 0, 1], [1, 1, 3]));
    const hole = faces.find(({ face }) => face?.isHollow)!;
    expect(hole.isExact).toBe(false);
    expect(hole.area / (2 * Math.PI * 0.01 * 0.18)).toBeCloseTo(1, 1);
    expect(plain(faceWords(hole, 'mm'))).toMatch(/^hole, [\d ]+ mm² of the mesh$/);
  });
});

it('a face of a mesh is told by its angles alone, and says so', async () => {
  const made = await bush();
  const faces = facesOf(made, IDENTITY, false);
  // The same triangles as those of the solid: its edges are right angles.
  expect(new Set(faces.map(({ triangles }) => triangles.join())).size).toBe(4);
  expect(faces.every(({ isExact, face }) => !isExact && !face)).toBe(true);
  expect(plain(faceWords(faces[0], 'mm'))).toMatch(/^\d+ triangles, [\d ]+ mm² of the mesh$/);
});

it('areas are said in square metres where they are large', () => {
  expect(plain(formatArea(2.5, 'mm'))).toBe('2.5 m²');
  expect(plain(formatArea(0.0645, 'in'))).toBe('99.98 in²');
  expect(plain(formatArea(0.02, 'm'))).toBe('0.02 m²');
});
