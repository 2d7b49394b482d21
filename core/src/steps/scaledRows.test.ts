// Lengths are those of the job, however a shape is scaled: the same thing drawn small and placed large is prepared as if it were drawn large.
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { memorySurroundings } from '../memoryStores.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { pointsAt } from '../mesh/placed.ts';
import { forecast } from '../preparation/forecast.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { measuredParts, worstDeviation } from '../scene/measured.ts';
import { geometryPlace } from '../scene/spot.ts';
import { largestStretch } from '../scene/stretch.ts';
import type { Scene } from '../scene/types.ts';
import { longestSide } from '../scene/tree.ts';
import { select } from '../select/select.ts';
import { atLength } from '../testing/atLength.ts';
import { denseDeviation } from '../testing/denseDeviation.ts';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { randomNumbers } from '../testing/random.ts';
import { fileOf, readAll } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { sphere, startKernel, stepOf } from '../testing/solids.ts';
import { checkSteps } from './kinds.ts';
import type { Step } from './kinds.ts';

/** A mesh as it stands somewhere. */
const placed = (mesh: Mesh, place: Matrix): Mesh => ({
  ...mesh,
  positions: pointsAt(mesh.positions, place),
  edges: pointsAt(mesh.edges, place),
});
const scaled = (x: number, y = x, z = x): Matrix => composed([0, 0, 0], [0, 0, 0, 1], [x, y, z]);
const step = (kind: string, parameters: object, selector: Step['selector'] = { by: 'all' }): Step => ({ id: kind, kind, on: true, selector, parameters }); // prettier-ignore
const within = (deviation: number) => step('reduce', { until: 'deviation', deviation, share: 0.5 });

async function prepared(tree: PartSpec[], ...steps: Step[]) {
  const { scene, blobs } = await sceneWith(tree);
  const around = memorySurroundings({ blobs });
  const { scene: after } = await evaluate(scene, 'k', checkSteps(steps), around);
  const meshAt = async (row: number): Promise<Mesh> => unpackMesh(await blobs.get(after.nodes.word('mesh', row)));
  /** As it stands in the job. */
  const standing = async (row: number) => placed(await meshAt(row), geometryPlace(after, row));
  return { scene: after, blobs, around, meshAt, standing };
}
const triangles = (scene: Scene, row = 0) => scene.meshes[scene.nodes.word('mesh', row)].triangles;

describe('the largest stretch of a place', () => {
  it('is never less than what happens to any direction, and is reached', () => {
    const random = randomNumbers(7);
    for (let round = 0; round < 40; round++) {
      const turn = () => {
        const q = [0, 1, 2, 3].map(() => random() - 0.5);
        const length = Math.hypot(...q);
        return q.map((value) => value / length) as [number, number, number, number];
      };
      const uneven = composed([1, 2, 3], turn(), [random() * 5, random() + 0.1, -random() * 3]);
      const m = multiply(uneven, composed([0, 0, 0], turn(), [1, 2 * random() + 0.1, 1]));
      const stretch = largestStretch([m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10]]);
      let most = 0;
      // By the power method on MᵀM, which goes towards the largest singular value from almost any direction.
      let v = [random(), random(), random()];
      for (let i = 0; i < 4000; i++) {
        const w = [0, 1, 2].map((k) => m[k] * v[0] + m[4 + k] * v[1] + m[8 + k] * v[2]);
        most = Math.hypot(...w) / Math.hypot(...v);
        const back = [0, 4, 8].map((at) => m[at] * w[0] + m[at + 1] * w[1] + m[at + 2] * w[2]);
        const length = Math.hypot(...back);
        v = back.map((value) => value / length);
      }
      expect(stretch).toBeGreaterThanOrEqual(most * (1 - 1e-9));
      expect(stretch / most).toBeCloseTo(1, 3);
    }
  });
});

describe('reducing within a deviation', () => {
  const BALL = ballMesh(1, 24);

  // Powers of two change no digit of a coordinate.
  const AS_DRAWN = 'a ball of 2 m placed at %d times what is drawn is left the triangles of one that is drawn so';
  it.each([64])(AS_DRAWN, asDrawn);
  atLength.each([1 / 128])(AS_DRAWN, asDrawn);
  async function asDrawn(factor: number): Promise<void> {
    const whole = await prepared([{ name: 'Ball', mesh: BALL }], within(0.01));
    const drawn = placed(BALL, scaled(1 / factor));
    const { scene, standing } = await prepared([{ name: 'Ball', mesh: drawn, transform: scaled(factor) }], within(0.01));
    expect(triangles(scene)).toBe(triangles(whole.scene));
    expect(triangles(whole.scene)).toBeLessThan((BALL.indices.length / 3) * 0.75);
    // Stated is what a measurement of its own finds on the meshes as they stand.
    const stated = worstDeviation(scene) as number;
    const found = denseDeviation(BALL, await standing(0), 8_000);
    expect(stated).toBeLessThanOrEqual(0.01 * 1.0001);
    expect(found).toBeLessThanOrEqual(stated * 1.05);
    expect(found).toBeGreaterThan(stated * 0.6);
    expect(measuredParts(scene, ({ deviation }) => deviation?.max)[0].max).toBeCloseTo(stated, 12);
  } // prettier-ignore

  it('goes by the side that is stretched most, and by the largest of several places', async () => {
    const ball = placed(BALL, scaled(0.1));
    const { scene, standing } = await prepared(
      [{ name: 'Small', mesh: ball }, { name: 'Long', mesh: ball, transform: scaled(1, 1, 20) }, { name: 'Wide', mesh: ball, transform: scaled(10) }], // prettier-ignore
      within(0.01),
    );
    // They still are one shape.
    expect(new Set([0, 1, 2].map((row) => scene.nodes.word('mesh', row))).size).toBe(1);
    expect(worstDeviation(scene)).toBeLessThanOrEqual(0.01 * 1.0001);
    const before = placed(ball, scaled(1, 1, 20));
    expect(denseDeviation(before, await standing(1), 8_000)).toBeLessThanOrEqual(0.01 * 1.05);
    const stated = measuredParts(scene, ({ deviation }) => deviation?.max).map(({ name, max }) => [name, max]);
    expect(stated[0][0]).toBe('Long');
    expect((stated[1][1] as number) / (stated[2][1] as number)).toBeCloseTo(10, 9);
  });

  it('is that of the job where a Scale step comes before', async () => {
    const small = placed(BALL, scaled(1 / 16));
    const scale = step('scale', { x: 16, y: 16, z: 16, about: 'origin' });
    const whole = await prepared([{ name: 'Ball', mesh: BALL }], within(0.01));
    const { scene } = await prepared([{ name: 'Ball', mesh: small }], scale, within(0.01));
    expect(triangles(scene)).toBe(triangles(whole.scene));
  });
});

describe('the size of a part', () => {
  // A wall drawn in metres of 40 mm, and one that is drawn a thousand times as large and placed small.
  const TREE: PartSpec[] = [
    { name: 'Rod', mesh: boxMesh(0.04, 0.004, 0.004) },
    { name: 'Rod as drawn', mesh: boxMesh(40, 4, 4), transform: scaled(0.001) },
    { name: 'Strip', mesh: boxMesh(0.04, 0.004, 0.004), transform: scaled(1, 50, 1) },
    { name: 'In a group', transform: scaled(100), children: [{ name: 'Rod', mesh: boxMesh(0.04, 0.004, 0.004) }] },
  ];

  it('is the longest side as it stands, in rules and in the ledger alike', async () => {
    const { scene } = await prepared(TREE);
    const { longest } = factsOf(scene);
    const expected = [0.04, 0.04, 0.2, -1, 4];
    expected.forEach((value, row) => expect(longest[row]).toBeCloseTo(value, 6));
    for (const row of [0, 1, 2, 4]) expect(longestSide(scene, scene.nodes.row(row))).toBeCloseTo(expected[row], 6);
    const from = (min: number, max?: number) => [...select(scene, { by: 'size', min, ...(max ? { max } : {}) })];
    expect(from(1)).toEqual([4]);
    expect(from(0.1, 1)).toEqual([2]);
    expect(from(0, 0.05)).toEqual([0, 1]);
  });
});

describe('pictures in their true size', () => {
  atLength(
    'lie as large on a part that is scaled as on one that is drawn so, with coordinates laid before',
    async () => {
      const lay = step('uv', {
        projection: 'box',
        frame: 'part',
        from: 'z',
        turn: 0,
        offsetU: 0,
        offsetV: 0,
        scale: 1,
      });
      const brick = step('finishes', { rules: [{ which: { by: 'all' }, material: 'lib:brick-red' }] });
      const { scene, meshAt } = await prepared(
        [{ name: 'Wall', mesh: boxMesh(4, 3, 0.2) }, { name: 'Drawn small', mesh: boxMesh(0.08, 0.06, 0.004), transform: scaled(50) }], // prettier-ignore
        lay,
        brick,
      );
      const spans = await Promise.all(
        [0, 1].map(async (row) => {
          const { uvs } = await meshAt(row);
          const [material] = scene.nodes.row(row).materials;
          const [times] = scene.materials[material].textures?.baseColor?.scale ?? [1];
          const us = (uvs?.[0] ?? new Float32Array()).filter((_, i) => i % 2 === 0);
          return (Math.max(...us) - Math.min(...us)) * times;
        }),
      );
      expect(spans[0]).toBeGreaterThan(1);
      expect(spans[1] / spans[0]).toBeCloseTo(1, 5);
    },
  );

  it('lie in their own size on each of two parts of one shape that stand as large as they please', async () => {
    const lay = step('uv', { projection: 'box', frame: 'part', from: 'z', turn: 0, offsetU: 0, offsetV: 0, scale: 1 });
    const tree = [{ name: 'One', mesh: boxMesh(1, 1, 1) }, { name: 'Ten', mesh: boxMesh(1, 1, 1), transform: scaled(10) }]; // prettier-ignore
    const { scene, meshAt } = await prepared(tree, lay);
    // In metres of the mesh: those of the job are ten times as many on the second.
    const spans = await Promise.all([0, 1].map(async (row) => Math.max(...((await meshAt(row)).uvs?.[0] ?? [])) * factsOf(scene).enlargements[row])); // prettier-ignore
    expect(spans[1] / spans[0]).toBeCloseTo(10, 5);
  });
});

describe('tessellating', () => {
  beforeAll(() => startKernel(loadKernel));
  const limits = (chord: number, more = {}) => step('tessellate', { chord, angle: 1.5, preset: 'own', ...more });

  async function tessellated(radius: number, factor: number, parameters: Step) {
    const { scene, blobs } = await readAll(fileOf('ball.step', await stepOf(sphere(radius * 1000))));
    const row = [...scene.nodes].find(({ solid }) => solid)?.id ?? 0;
    const around = memorySurroundings({ blobs });
    const scale = step('scale', { x: factor, y: factor, z: factor, about: 'origin' });
    // The scale stands before: as a file that places its solid so.
    const large = await evaluate(scene, 'a', checkSteps([scale]), around);
    const after = await evaluate(large.scene, 'b', checkSteps([parameters]), around);
    const mesh = unpackMesh(await blobs.get(after.scene.nodes.word('mesh', row)));
    return { before: large.scene, scene: after.scene, around, standing: placed(mesh, geometryPlace(after.scene, row)) };
  }

  it('keeps the chord deviation of the job where the solid is placed larger', async () => {
    const whole = await tessellated(1, 1, limits(0.002));
    const { scene, standing } = await tessellated(0.05, 20, limits(0.002));
    expect(standing.indices.length / whole.standing.indices.length).toBeCloseTo(1, 1);
    // Corners lie on the ball, middles of sides no farther below it than allowed.
    let deepest = 0;
    for (let i = 0; i < standing.indices.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => standing.indices[i + k] * 3);
      const middle = [0, 1, 2].map((k) => (standing.positions[a + k] + standing.positions[b + k] + standing.positions[c + k]) / 3); // prettier-ignore
      deepest = Math.max(deepest, 1 - Math.hypot(...middle));
    }
    expect(deepest).toBeLessThanOrEqual(0.002 * 1.05);
    const [measured] = measuredParts(scene, ({ exact }) => exact?.max);
    expect(measured.max).toBeLessThanOrEqual(0.002 * 1.05);
    expect(measured.max).toBeGreaterThanOrEqual(deepest * 0.9);
  });

  it('keeps edges and shares of the job too', async () => {
    const edges = limits(0.05, { longest: 0.2 });
    const long = async (radius: number, factor: number) => {
      const { standing } = await tessellated(radius, factor, edges);
      return standing.indices.length;
    };
    expect((await long(0.05, 20)) / (await long(1, 1))).toBeCloseTo(1, 1);
    const share = limits(0.05, { share: 0.001, least: 0.0005, most: 0.01 });
    const [small, whole] = [await tessellated(0.05, 20, share), await tessellated(1, 1, share)];
    expect(small.standing.indices.length / whole.standing.indices.length).toBeCloseTo(1, 1);
  });

  it('is forecast for what stands in the job', async () => {
    const [small, whole] = [await tessellated(0.001, 20, limits(0.01)), await tessellated(0.02, 1, limits(0.01))];
    const of = ({ before, around }: typeof small) => forecast(before, 0.5, around);
    const [a, b] = [await of(small), await of(whole)];
    expect(a.points.map(({ triangles }) => triangles)).toEqual(b.points.map(({ triangles }) => triangles));
  });
});
