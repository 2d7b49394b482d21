// Measures against handbook formulas and three.js; taken again behind every change, and of what cannot be measured it is said.
import { Triangle, Vector3 } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { memorySurroundings } from '../memoryStores.ts';
import type { MemoryBlobs } from '../memoryStores.ts';
import { angleAt, measuredShort, measuredWords, radiusThrough } from '../measure/kept.ts';
import type { Measured } from '../measure/kept.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { composed, IDENTITY, translation } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { nodeTable } from '../scene/nodeWriter.ts';
import type { Scene } from '../scene/types.ts';
import type { Selector } from '../select/select.ts';
import { boxMesh, squareMesh } from '../testing/meshes.ts';
import { randomNumbers } from '../testing/random.ts';
import { sceneWith } from '../testing/scenes.ts';
import { cone, cylinder, startKernel, stepOf, torus } from '../testing/solids.ts';
import { checkSteps, newStep, placeFor } from './kinds.ts';
import type { Step } from './kinds.ts';

const step = (parameters: object, selector: Selector = { by: 'all' }): Step => ({
  id: 'm',
  kind: 'measure',
  on: true,
  selector,
  parameters,
});
const take = async (scene: Scene, blobs: MemoryBlobs, ...steps: Step[]) =>
  (await evaluate(scene, 'k', steps, memorySurroundings({ blobs }))).reports; // prettier-ignore

describe('points', () => {
  it('distance, angle and radius are those of three.js, on random points', () => {
    const random = randomNumbers(7);
    const any = (): Vector => [random() * 9 - 4, random() * 9 - 4, random() * 9 - 4];
    for (let i = 0; i < 100; i++) {
      const [a, b, c] = [any(), any(), any()];
      const [va, vb, vc] = [a, b, c].map((v) => new Vector3(...v));
      const angle = new Vector3().subVectors(va, vb).angleTo(new Vector3().subVectors(vc, vb));
      expect(angleAt(a, b, c)).toBeCloseTo(angle, 6);
      // Circumradius: the product of the sides over four times the area (any handbook).
      const radius = (va.distanceTo(vb) * vb.distanceTo(vc) * vc.distanceTo(va)) / (4 * new Triangle(va, vb, vc).getArea());
      expect(radiusThrough(a, b, c)! / radius).toBeCloseTo(1, 9);
    }
  }); // prettier-ignore

  it('tells tiny angles, and half turns', () => {
    expect(angleAt([1, 0, 0], [0, 0, 0], [1, 1e-9, 0])).toBeCloseTo(1e-9, 18);
    expect(angleAt([1, 0, 0], [0, 0, 0], [-2, 0, 0])).toBe(Math.PI);
    expect(angleAt([1, 0, 0], [1, 0, 0], [2, 0, 0])).toBeUndefined();
    expect(radiusThrough([0, 0, 0], [1, 1, 1], [2, 2, 2])).toBeUndefined();
  });

  it('go with their parts: a measure is taken again behind what moves them', async () => {
    const { scene, blobs } = await sceneWith([
      { name: 'A', mesh: boxMesh(1, 1, 1) },
      { name: 'B', mesh: boxMesh(1, 1, 1), transform: translation([3, 0, 0]) },
    ]);
    const measure = step({ name: 'Gap', of: 'distance', a: { at: [1, 0, 0], on: '/A' }, b: { at: [0, 0, 0], on: '/B' } });
    const move: Step = { id: 'v', kind: 'move', on: true, selector: { by: 'picked', keys: ['/B'] }, parameters: { x: 0.5, y: 2, z: 0 } };
    expect((await take(scene, blobs, measure))[0].measured).toMatchObject({ name: 'Gap', value: 2, along: [2, 0, 0] });
    const [, after] = await take(scene, blobs, move, measure);
    expect(after.measured).toMatchObject({ value: Math.hypot(2.5, 2), along: [2.5, 2, 0] });
    expect(after.notes).toEqual(['3\u2009201.56\u00a0mm (x 2\u2009500, y 2\u2009000, z 0 mm)']);
  }); // prettier-ignore

  it('that cannot be measured are said', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'A', mesh: boxMesh(1, 1, 1) }]);
    const at = (x: number) => ({ at: [x, 0, 0] });
    const said = async (parameters: object) => (await take(scene, blobs, step(parameters)))[0].problems;
    expect(await said({ name: 'M', of: 'radius', a: at(0), b: at(1), c: at(2) })).toEqual(['M: the points lie on one line, so there is no circle.']);
    expect(await said({ name: 'M', of: 'angle', a: at(0), b: at(0), c: at(2) })).toEqual(['M: two of the points are one, so there is no angle.']);
    expect(await said({ name: 'M', of: 'distance', a: at(0), b: { at: [0, 0, 0], on: '/Gone' } })).toEqual(['M: the part on which a point was picked is no longer there: /Gone.']);
    expect(() => checkSteps([step({ name: 'M', of: 'angle', a: at(0) })])).toThrow('2 points are missing');
    expect(() => checkSteps([step({ name: 'M', of: 'mass', density: -1 })])).toThrow('The density must be at least 0.01\u00a0kg/m³');
  }); // prettier-ignore
});

describe('parts', () => {
  beforeAll(() => startKernel(loadKernel));

  /** One solid in two places, the second twice as large. */
  async function twoOf(text: Uint8Array, second: Matrix = composed([1, 0, 0], [0, 0, 0, 1], [2, 2, 2])) {
    const { scene, blobs } = await sceneWith([]);
    const solids = { s1: { text: await blobs.put(text), bytes: 1, entity: '#1', name: 'Shape', faces: 1, extent: 0.04 } };
    const row = { parent: null, kind: 'part', source: 's', materials: [], layer: null, solid: 's1' } as const;
    const nodes = nodeTable([
      { ...row, id: 0, key: '/A', name: 'A', transform: IDENTITY },
      { ...row, id: 1, key: '/B', name: 'B', transform: second },
    ] as never);
    return { scene: { ...scene, solids, nodes }, blobs };
  } // prettier-ignore

  // Area and volume by the formulas of any handbook; millimetres.
  const slant = Math.hypot(8, 20);
  const SHAPES = [
    ['cone', () => cone(8, 20), Math.PI * 8 * (8 + slant), (Math.PI * 64 * 20) / 3],
    ['cylinder', () => cylinder(5, 30), 2 * Math.PI * 5 * (5 + 30), Math.PI * 25 * 30],
    ['torus', () => torus(20, 6), 4 * Math.PI ** 2 * 20 * 6, 2 * Math.PI ** 2 * 20 * 36],
  ] as const;
  it.each(SHAPES)('%s: area, volume and mass are exact, of all places, by their scales', async (_, make, area, volume) => {
    const { scene, blobs } = await twoOf(await stepOf(make()));
    const of = async (parameters: object) => (await take(scene, blobs, step({ name: 'M', ...parameters })))[0].measured as Measured;
    expect((await of({ of: 'area' })).value / (area * (1 + 4) * 1e-6)).toBeCloseTo(1, 9);
    expect((await of({ of: 'volume' })).value / (volume * (1 + 8) * 1e-9)).toBeCloseTo(1, 9);
    const mass = await of({ of: 'mass', density: 2700 });
    expect(mass.value / (volume * (1 + 8) * 1e-9 * 2700)).toBeCloseTo(1, 9);
    expect(mass).toMatchObject({ isExact: true, parts: 2 });
  }); // prettier-ignore

  it('scaled unevenly have a volume but no area that is known; what is open has an area but no volume', async () => {
    const { scene, blobs } = await twoOf(await stepOf(cylinder(5, 30)), composed([1, 0, 0], [0, 0, 0, 1], [1, 1, 3]));
    const [area] = await take(scene, blobs, step({ name: 'M', of: 'area' }));
    expect(area.problems).toEqual(['M: 1 part is scaled unevenly, so that the area is not known, and not counted: B.']);
    expect(area.measured).toMatchObject({ parts: 1 });
    const [volume] = await take(scene, blobs, step({ name: 'M', of: 'volume' }));
    expect(volume.measured!.value / (Math.PI * 25 * 30 * 4 * 1e-9)).toBeCloseTo(1, 9);
    const open = await sceneWith([{ name: 'Sheet', mesh: squareMesh(2, 3) }]);
    const [none] = await take(open.scene, open.blobs, step({ name: 'M', of: 'mass' }));
    expect(none).toMatchObject({ problems: ['M: 1 part is not closed and not counted: Sheet.'] });
    expect(none.measured).toBeUndefined();
    const [sheet] = await take(open.scene, open.blobs, step({ name: 'M', of: 'area' }));
    expect(sheet).toMatchObject({ measured: { value: 4, isExact: false }, notes: ['4\u00a0m² (from meshes)'] });
  });
});

it('stands behind everything, whatever is added later', () => {
  const measure = newStep('a', 'measure', { by: 'all' }, { name: 'M', of: 'area' });
  const move = newStep('b', 'move', { by: 'all' }, { x: 0, y: 0, z: 0 });
  expect(placeFor('move', [measure])).toBe(0);
  expect(placeFor('measure', [move, measure])).toBe(2);
});

it('says values in units that suit their size', () => {
  const words = (of: Measured['of'], value: number, unit = 'mm') => measuredWords({ name: 'M', of, value, points: [], isExact: true }, unit);
  expect(words('volume', 3e-6)).toBe('3\u00a0cm³ (exact)');
  expect(words('volume', 2.5)).toBe('2.5\u00a0m³ (exact)');
  expect(words('volume', 0.0254 ** 3, 'inch')).toBe('1\u00a0inch³ (exact)');
  expect(words('mass', 0.05)).toBe('50\u00a0g (exact)');
  expect(words('mass', 12_500)).toBe('12.5\u00a0t (exact)');
  expect(words('angle', Math.PI / 3)).toBe('60°');
  expect(words('radius', 0.0125)).toBe('r 12.5\u00a0mm, ⌀ 25\u00a0mm');
  expect(measuredShort({ name: 'M', of: 'distance', value: 0.5, along: [0.5, 0, 0], points: [] }, 'mm')).toBe('500\u00a0mm');
}); // prettier-ignore
