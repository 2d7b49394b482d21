// Points that were picked on a part, and a revision in which the part has another shape: what is placed by them is not where it was meant, and that is said.
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { curvesOf } from '../measure/curves.ts';
import { snapAt } from '../measure/snap.ts';
import { SnapFeatures } from '../measure/snapFeatures.ts';
import { featureEdges } from '../mesh/edges.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { evaluate, evaluateNow } from '../preparation/evaluate.ts';
import { composed, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { geometryPlace, spotOn, spotSchema } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { checkSteps } from './kinds.ts';
import type { Step } from './kinds.ts';

const box = (x: number, y: number, z: number): Mesh => withEdges(boxMesh(x, y, z));
const withEdges = (mesh: Mesh): Mesh => ({ ...mesh, edges: featureEdges(mesh) });

/** A round post of so many sides, its rims as feature edges. */
function post(radius: number, height: number, sides: number): Mesh {
  const at = (i: number, z: number): Vector => [radius * Math.cos((i / sides) * 2 * Math.PI), radius * Math.sin((i / sides) * 2 * Math.PI), z]; // prettier-ignore
  const corners = [0, height].flatMap((z) => [
    ...Array.from({ length: sides }, (_, i) => at(i, z)),
    [0, 0, z] as Vector,
  ]);
  const [bottom, top] = [0, sides + 1];
  const indices = Array.from({ length: sides }, (_, i) => {
    const next = (i + 1) % sides;
    return [bottom + i, bottom + next, top + next, bottom + i, top + next, top + i, bottom + sides, bottom + next, bottom + i, top + sides, top + i, top + next]; // prettier-ignore
  }).flat();
  const edges = [0, height].flatMap((z) => Array.from({ length: sides }, (_, i) => [...at(i, z), ...at((i + 1) % sides, z)]).flat()); // prettier-ignore
  return { ...boxMesh(1, 1, 1), positions: Float32Array.from(corners.flat()), normals: new Float32Array(corners.length * 3).fill(1), indices: Uint32Array.from(indices), edges: Float32Array.from(edges), groups: [{ slot: 0, start: 0, count: indices.length }] }; // prettier-ignore
}

const TEN: Matrix = composed([3, 0, 0], [0, 0, 0, 1], [10, 10, 10]);
const plant = (mesh: Mesh, transform?: Matrix) => sceneWith([{ name: 'Post', mesh, ...(transform ? { transform } : {}) }, { name: 'Bolt', mesh: box(0.1, 0.1, 0.1) }]); // prettier-ignore

/** What somebody picks who points at a place of the first part, in its own frame. */
async function picked(mesh: Mesh, at: Vector, transform?: Matrix): Promise<Spot> {
  const { scene } = await plant(mesh, transform);
  const world = geometryPlace(scene, 0);
  const point = transformPoint(world, at);
  const pixels = (other: Vector) => Math.hypot(...other.map((value, i) => value - point[i])) / 0.001;
  const snap = snapAt({ row: 0, features: new SnapFeatures(curvesOf(mesh.edges)), world, point, pixels, metresPerPixel: 0.001 }); // prettier-ignore
  return { ...spotOn(scene, 0, snap.point, snap.axis, snap.by), what: snap.kind };
}

const pivotAt = (spot: Spot): Step => ({ id: 'p', kind: 'pivot', on: true, selector: { by: 'name', pattern: 'Bolt' }, parameters: { place: 'spot', spot, of: 'parts' } }); // prettier-ignore

async function saidOn(mesh: Mesh, spot: Spot, transform?: Matrix, before: Step[] = []): Promise<string[]> {
  const { scene, blobs } = await plant(mesh, transform);
  const { reports } = await evaluate(scene, 'k', checkSteps([...before, pivotAt(spot)]), memorySurroundings({ blobs }));
  return reports.at(-1)?.problems ?? [];
}

describe('a point that was picked on a part', () => {
  it('by a corner is missed where the part was made longer, in lengths of the job, and the step is applied all the same', async () => {
    const corner = await picked(box(1, 1, 1), [0.5, 0.5, 0.5]);
    expect(corner).toMatchObject({ what: 'corner', by: { landmarks: [{ of: 'corner' }] } });
    expect(await saidOn(box(1, 1, 1), corner)).toEqual([]);
    // Nothing can be missed of a point that was picked by nothing.
    expect(await saidOn(box(1.2, 1, 1), { ...corner, by: { ...corner.by!, landmarks: [] } })).toEqual([]);
    const longer = box(1.2, 1, 1);
    const said = (length: string) => new RegExp(`^Point: what was picked on Post \\(corner\\) is no longer there; the nearest is ${length}\\smm away`); // prettier-ignore
    expect((await saidOn(longer, corner)).join()).toMatch(said('100'));
    // Ten times as large as it is drawn.
    const large = await picked(box(1, 1, 1), [0.5, 0.5, 0.5], TEN);
    expect((await saidOn(longer, large, TEN)).join()).toMatch(said('1.000'));
    const { scene, blobs } = await plant(longer);
    const { scene: after } = await evaluate(scene, 'k', checkSteps([pivotAt(corner)]), memorySurroundings({ blobs }));
    expect(after.nodes.place(1).slice(12, 15)).toEqual([0.5, 0.5, 0.5]);
  });

  it('by the middle of an edge is missed where an end of the edge went, by a face where the face did', async () => {
    const middle = await picked(box(1, 1, 1), [0, 0.5, 0.5]);
    expect(middle.what).toBe('middle');
    const face = await picked(box(1, 1, 1), [0.1, 0.2, 0.5]);
    expect(face.what).toBe('face');
    const [longer, higher] = [box(1.2, 1, 1), box(1, 1, 1.4)];
    expect(await saidOn(longer, middle)).toHaveLength(1);
    expect(await saidOn(longer, face)).toEqual([]);
    expect((await saidOn(higher, face)).join()).toMatch(/nearest is 200\smm/);
  });

  it('by a circle is found in finer triangles, and missed where the radius is another one', async () => {
    const rim = await picked(post(0.5, 2, 16), [0.5, 0, 2]);
    expect(rim.what).toBe('edge');
    const { scene } = await plant(post(0.5, 2, 16));
    const through = rim.by!.landmarks;
    const centre: Spot = { at: [0, 0, 2], on: scene.nodes.key(0), what: 'centre of a circle', by: rim.by! };
    expect(through).toMatchObject([{ of: 'edge' }]);
    for (const sides of [24, 100]) expect(await saidOn(post(0.5, 2, sides), centre)).toEqual([]);
    expect((await saidOn(post(0.6, 2, 24), centre)).join()).toContain('centre of a circle');
  });

  it('is found on what a step before made of its part, as far as that says how far it went', async () => {
    const corner = await picked(box(1, 1, 1), [0.5, 0.5, 0.5]);
    const parameters = { projection: 'box', frame: 'part', from: 'z', turn: 0, offsetU: 0, offsetV: 0, scale: 1 };
    const lay: Step = { id: 'u', kind: 'uv', on: true, selector: { by: 'all' }, parameters };
    expect(await saidOn(box(1, 1, 1), corner, undefined, [lay])).toEqual([]);
  });

  it('says nothing before it is known, and asks for what is to be looked at', async () => {
    const corner = await picked(box(1, 1, 1), [0.5, 0.5, 0.5]);
    const { scene } = await plant(box(2, 1, 1));
    const { reports, missing } = evaluateNow(scene, 'k', checkSteps([pivotAt(corner)]), () => undefined);
    expect(reports[0]).toMatchObject({ pending: 0, problems: [] });
    expect(missing.map(({ task, label }) => [task, label])).toEqual([['landmarks', 'Post']]);
    expect(evaluateNow((await plant(box(1, 1, 1))).scene, 'k', checkSteps([pivotAt(corner)]), () => undefined).missing).toEqual([]); // prettier-ignore
  });

  it('takes no more than a handful of landmarks from whoever sends them', async () => {
    const corner = await picked(box(1, 1, 1), [0.5, 0.5, 0.5]);
    const schema = spotSchema('The point');
    expect(schema.validateSync(corner, { strict: true })).toEqual(corner);
    expect(schema.validateSync({ at: [0, 0, 0] }, { strict: true })).toEqual({ at: [0, 0, 0] });
    const many = {
      ...corner,
      by: { ...corner.by!, landmarks: Array.from({ length: 5 }, () => corner.by!.landmarks[0]) },
    };
    expect(() => schema.validateSync(many, { strict: true })).toThrow();
  });
});
