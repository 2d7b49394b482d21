// Centroids by the formulas of any handbook of mechanics, of solids and of their meshes; frames against three.js on random trees.
import { Matrix4, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { MemoryBlobs, memorySurroundings } from '../memoryStores.ts';
import { isClosed, mass } from '../mesh/mass.ts';
import { packMesh, unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, IDENTITY, invert, multiply, transformPoint, translation } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { nodeTable } from '../scene/nodeWriter.ts';
import { directionIn, geometryPlace, spotOn } from '../scene/spot.ts';
import { worldBox } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import { readExact } from '../solid/readExact.ts';
import { tessellate } from '../solid/tessellate.ts';
import { ballMesh, boxMesh, moved } from '../testing/meshes.ts';
import { openEdges } from '../testing/closed.ts';
import { sceneWith } from '../testing/scenes.ts';
import { cone, hemisphere, startKernel, stepOf, torus } from '../testing/solids.ts';
import { farthestBetween, randomTree } from '../testing/trees.ts';
import { applyStep } from './kind.ts';
import { stepKind } from './kinds.ts';
import type { PivotParameters } from './pivot.ts';

beforeAll(() => startKernel(loadKernel));

const set = (scene: Scene, parameters: PivotParameters, rows = select(scene, { by: 'all' })) =>
  applyStep(stepKind('pivot'), scene, rows, parameters, () => undefined);
const pivotOf = (scene: Scene, row: number): Vector => transformPoint(factsOf(scene).world(row), [0, 0, 0]);

/** The pivot of one part of a shape, in the frame that the shape was made in, millimetres. */
async function centroidOf(scene: Scene, blobs: MemoryBlobs) {
  const step = { id: 'p', kind: 'pivot', on: true, selector: { by: 'all' } as const, parameters: { place: 'centroid', of: 'parts' } }; // prettier-ignore
  const { scene: after, reports } = await evaluate(scene, 'k', [step], memorySurroundings({ blobs }));
  const row = after.nodes.find(({ kind }) => kind === 'part')!;
  return { at: row.transform.slice(12, 15).map((value) => value * 1000), report: reports[0], scene: after };
}

const SHAPES = [
  ['cone', () => cone(8, 20), 5],
  ['hemisphere', () => hemisphere(9), 27 / 8],
  ['torus', () => torus(20, 6), 0],
] as const;

describe.each(SHAPES)('the centroid of a %s', (_, make, height) => {
  it('is exact where there is a solid', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Shape' }]);
    const text = await blobs.put(await stepOf(make()));
    const solids = { s1: { text, bytes: 1, entity: '#1', name: 'Shape', faces: 1, extent: 0.04 } };
    const nodes = nodeTable([{ ...scene.nodes.row(0), id: 0, key: '/Shape', parent: null, name: 'Shape', kind: 'part', source: 's', transform: IDENTITY, materials: [], layer: null, solid: 's1' }]); // prettier-ignore
    const { at, report } = await centroidOf({ ...scene, solids, nodes } as never, blobs);
    expect(report.problems).toEqual([]);
    [0, 0, height].forEach((wanted, axis) => expect(at[axis]).toBeCloseTo(wanted, 9));
  });

  it('is that of its mesh where there is none, the nearer the finer', async () => {
    const text = await stepOf(make());
    const off = async (chord: number) => {
      const { blob } = await tessellate({ text, limits: { chord, angle: 1 } });
      const mesh = unpackMesh(blob);
      expect(isClosed(mesh)).toBe(true);
      const { scene, blobs } = await sceneWith([{ name: 'Shape', mesh }]);
      const { at, report } = await centroidOf(scene, blobs);
      expect(report.problems).toEqual([]);
      return Math.hypot(at[0], at[1], at[2] - height);
    };
    const [coarse, fine] = [await off(5e-4), await off(2e-5)];
    expect(fine).toBeLessThan(0.05);
    expect(fine).toBeLessThanOrEqual(coarse + 1e-4);
  });
});

describe('a mesh that is not closed', () => {
  /** The upper half of a ball without its floor: the centre of its area lies at half the radius. */
  const bowl = (): Mesh => {
    const ball = ballMesh(1, 128);
    const indices: number[] = [];
    for (let i = 0; i < ball.indices.length; i += 3)
      if ([0, 1, 2].every((k) => ball.positions[ball.indices[i + k] * 3 + 1] > -1e-6)) indices.push(...ball.indices.slice(i, i + 3)); // prettier-ignore
    return { ...ball, indices: Uint32Array.from(indices), groups: [{ slot: 0, start: 0, count: indices.length }] };
  };

  it('has the centre of its area, and says so', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Bowl', mesh: bowl() }]);
    const { at, report } = await centroidOf(scene, blobs);
    expect(at[1] / 1000).toBeCloseTo(0.5, 3);
    expect(report.problems).toEqual(['1 part is not closed: the centre of the area is taken there.']);
  });

  it('is told as a second way of counting tells it', async () => {
    for (const mesh of [bowl(), ballMesh(1, 12), boxMesh(1, 2, 3), moved(boxMesh(1, 1, 1), 5000, 0, 0)])
      expect((await mass({ mesh: packMesh(mesh) })).isClosed).toBe(openEdges(mesh) === 0);
    // Inside out it is closed, and has the same volume.
    const box = boxMesh(1, 2, 3);
    const turned = { ...box, indices: box.indices.slice().reverse() };
    expect((await mass({ mesh: packMesh(turned) })).volume).toBeCloseTo(6, 5);
  });
});

describe('on random trees, whatever the pivot', () => {
  const spot = { at: [1, 2, 3] as Vector, axis: [0, 0.6, 0.8] as Vector };
  const KINDS: PivotParameters[] = [
    { place: 'box', x: 'low', z: 'high', of: 'parts' },
    { place: 'spot', spot, of: 'picked' },
    { place: 'spot', spot, turn: 'axis', of: 'picked' },
    { place: 'keep', turn: 'world', of: 'picked' },
    { place: 'row', row: '/Group 0', turn: 'row', of: 'parts' },
    { place: 'base-centre', turn: 'world', of: 'assemblies' },
  ];
  it.each(KINDS)('%o: geometry and what is below stay, and no mesh is another', async (parameters) => {
    for (let seed = 1; seed <= 5; seed++) {
      const { scene, objects } = await randomTree(seed);
      const named = { ...scene, nodes: scene.nodes };
      const row = scene.nodes.find(({ kind }) => kind === 'assembly')!;
      const given = parameters.row ? { ...parameters, row: row.key } : parameters;
      const { scene: after, changed, problems } = set(named, given);
      expect(problems.filter((words) => !words.includes('without geometry'))).toEqual([]);
      expect(changed).toBeGreaterThan(0);
      expect(after.nodes.columns.mesh).toEqual(scene.nodes.columns.mesh);
      for (const part of scene.nodes.filter(({ mesh }) => mesh))
        expect(farthestBetween(geometryPlace(after, part.id), objects[part.id].matrixWorld.toArray())).toBeLessThan(1e-9); // prettier-ignore
    }
  });

  it('the new frames are those that three.js composes', async () => {
    const { scene } = await randomTree(7);
    const { scene: after } = set(scene, { place: 'spot', spot, turn: 'axis', along: 'y', of: 'picked' });
    for (const node of after.nodes) {
      const world = new Matrix4().fromArray(factsOf(after).world(node.id));
      const [move, turn, size] = [new Vector3(), new Quaternion(), new Vector3()];
      world.decompose(move, turn, size);
      move.toArray().forEach((value, axis) => expect(value).toBeCloseTo(spot.at[axis], 9));
      // Its y axis lies along the picked axis, one way or the other.
      const y = new Vector3(0, 1, 0).applyQuaternion(turn);
      expect(Math.abs(y.dot(new Vector3(...spot.axis)))).toBeCloseTo(1, 9);
    }
    const { scene: upright } = set(scene, { place: 'keep', turn: 'world', of: 'picked' });
    for (const node of upright.nodes) {
      const turn = new Quaternion();
      new Matrix4().fromArray(factsOf(upright).world(node.id)).decompose(new Vector3(), turn, new Vector3());
      expect(Math.abs(turn.w)).toBeCloseTo(1, 9);
    }
  });
});

describe('a pivot at a point', () => {
  const shaft = { name: 'Shaft', mesh: boxMesh(1, 1, 4), transform: translation([10, 0, 0]) };
  const other = { name: 'Other', mesh: boxMesh(1, 1, 4), transform: composed([20, 5, 0], [0, Math.SQRT1_2, 0, Math.SQRT1_2], [1, 1, 1]) }; // prettier-ignore

  it('on a part goes with the part: where it lies now, not where it lay', async () => {
    const { scene } = await sceneWith([shaft, other]);
    const spot = spotOn(scene, 0, [10.5, 0.5, 2], [0, 0, 1]);
    expect(spot).toEqual({ at: [0.5, 0.5, 2], on: '/Shaft', axis: [0, 0, 1] });
    // A new revision has it elsewhere.
    const { scene: later } = await sceneWith([{ ...shaft, transform: translation([100, 7, 0]) }, other]);
    pivotOf(set(later, { place: 'spot', spot, of: 'parts' }, new Set([1]) as never).scene, 1).forEach((value, axis) => expect(value).toBeCloseTo([100.5, 7.5, 2][axis], 9)); // prettier-ignore
  });

  it('for each lies at the same place of its shape, so that equal parts stay equal', async () => {
    const { scene } = await sceneWith([shaft, other]);
    const spot = spotOn(scene, 0, [10.5, 0.5, 2], [0, 0, 1]);
    const { scene: after } = set(scene, { place: 'spot', spot, same: 'each', turn: 'axis', of: 'parts' });
    expect(after.nodes.row(0).offset).toEqual(after.nodes.row(1).offset);
    expect(pivotOf(after, 1).map((value) => Number(value.toFixed(9)))).toEqual([22, 5.5, -0.5]);
  });

  it('for all equal parts says beforehand that a file writes them apart', async () => {
    const { scene } = await sceneWith([shaft, other]);
    const said = (parameters: object) => stepKind('pivot').beforehand?.(scene, select(scene, { by: 'all' }), { of: 'parts', ...parameters }); // prettier-ignore
    const words = ['2 parts share their shape with others: with one point for all, a file writes each by itself.'];
    expect(said({ place: 'spot', spot: { at: [0, 0, 0] } })).toEqual(words);
    expect(said({ place: 'spot', same: 'each', spot: { at: [0, 0, 0], on: '/Shaft' } })).toEqual([]);
    expect(said({ place: 'box-centre' })).toEqual([]);
  });

  it.each<[PivotParameters, string]>([
    [{ place: 'spot', of: 'parts' }, 'The point is missing: pick it in the view, or type its coordinates.'],
    [{ place: 'row', of: 'parts' }, 'The other row has to be chosen.'],
    [{ place: 'keep', turn: 'axis', spot: { at: [0, 0, 0] }, of: 'parts' }, 'What was picked has no axis: pick a circle, a hole or a shaft.'],
    [{ place: 'spot', spot: { at: [2e9, 0, 0] }, of: 'parts' }, 'The point has a coordinate beyond 1000000 km, or one that is no number.'],
    [{ place: 'spot', spot: { at: [NaN, 0, 0] }, of: 'parts' }, 'The point has a coordinate beyond'],
  ])('%o is refused: %s', (parameters, words) => {
    expect(() => stepKind('pivot').schema.validateSync(parameters, { strict: true })).toThrow(words);
  }); // prettier-ignore

  it('on a part that is gone changes nothing, and says so; an empty assembly is left', async () => {
    const { scene } = await sceneWith([shaft, { name: 'Hollow', children: [] }]);
    const gone = set(scene, { place: 'spot', spot: { at: [0, 0, 0], on: '/Gone' }, of: 'parts' });
    expect(gone.scene).toBe(scene);
    expect(gone.problems).toEqual(['The part on which the point was picked is no longer there: /Gone.']);
    const empty = set(scene, { place: 'box-centre', of: 'assemblies' });
    expect(empty.scene).toBe(scene);
    expect(empty.problems).toEqual(['1 row without geometry: left as they are (Hollow).']);
  });

  it('far from the origin is where it was picked, to the micrometre', async () => {
    const far = { ...shaft, transform: translation([5e8, 0, 0]) };
    const { scene } = await sceneWith([far]);
    const spot = spotOn(scene, 0, [5e8 + 0.5, 0.5, 2]);
    const { scene: after } = set(scene, { place: 'spot', spot, of: 'parts' });
    expect(Math.abs(pivotOf(after, 0)[0] - (5e8 + 0.5))).toBeLessThan(1e-6);
  });
});

it('what is below stays, or follows where that is asked for', async () => {
  const { scene } = await sceneWith([{ name: 'Unit', children: [{ name: 'Part', mesh: boxMesh(2, 2, 2), transform: translation([3, 0, 0]) }] }]); // prettier-ignore
  const unit = new Set([0]) as never;
  const stays = set(scene, { place: 'box-centre', of: 'assemblies' }, unit).scene;
  expect([pivotOf(stays, 0), worldBox(stays)?.min[0]]).toEqual([[3, 0, 0], 2]);
  const follows = set(scene, { place: 'box-centre', children: 'follow', of: 'assemblies' }, unit).scene;
  expect([pivotOf(follows, 0), worldBox(follows)?.min[0]]).toEqual([[3, 0, 0], 5]);
});

it('directions come back from any frame', () => {
  const place: Matrix = composed([1, 2, 3], [0.1825742, 0.3651484, 0.5477226, 0.7302967], [2, 2, 2]);
  const there = directionIn(place, [0, 0.6, 0.8]);
  directionIn(invert(place), there).forEach((value, axis) => expect(value).toBeCloseTo([0, 0.6, 0.8][axis], 12));
  expect(farthestBetween(multiply(place, invert(place)), IDENTITY)).toBeLessThan(1e-12);
});

it('an open solid has the centre of its area', async () => {
  const text = await stepOf(hemisphere(9));
  const { areaCentre, centroid } = await readExact({ text });
  // With its floor: (2πr² · r/2 + πr² · 0) / 3πr².
  expect(areaCentre[2] * 1000).toBeCloseTo(3, 9);
  expect((centroid?.[2] ?? 0) * 1000).toBeCloseTo(27 / 8, 9);
});
