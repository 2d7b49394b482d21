// Origins against three.js, the formula of the standard, and files read by another library.
import { Matrix4, Vector3 } from 'three';
import { WebIO } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { factsOf } from '../scene/facts.ts';
import { transformPoint, translation } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { conversionAt, intoCoordinates, onMap } from '../scene/origin.ts';
import type { MapConversion } from '../scene/origin.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import { boxMesh } from '../testing/meshes.ts';
import { randomNumbers } from '../testing/random.ts';
import { sceneWith } from '../testing/scenes.ts';
import { farthestBetween, randomTree } from '../testing/trees.ts';
import { sceneIn } from '../transmit/coordinates.ts';
import { sentTo } from '../testing/sent.ts';
import { applyStep } from './kind.ts';
import { checkSteps, stepKind } from './kinds.ts';

function applied(scene: Scene, kind: string, parameters: object) {
  const spec = stepKind(kind);
  return applyStep(spec, scene, select(scene, { by: 'all' }), parameters);
}
const FAR: Vector = [2_600_123.456, 0, -1_200_456.789];
/** A tree whose root stands far off, and one whose root was left at zero while its parts are far off. */
const farOff = () =>
  sceneWith([
    { name: 'Placed', transform: translation(FAR), children: [{ name: 'A', mesh: boxMesh(2, 2, 2) }] },
    { name: 'Left at zero', children: [{ name: 'B', mesh: boxMesh(2, 2, 2), transform: translation([FAR[0] + 8, 3, FAR[2]]) }] },
  ]); // prettier-ignore
const world = (scene: Scene, path: string) => factsOf(scene).world(factsOf(scene).rowOf(path) as number);

describe('a map conversion', () => {
  // ISO 16739-1 (IFC 4.3), IfcMapConversion: E = Eastings + Scale (x cos θ - y sin θ), N = Northings + Scale (x sin θ + y cos θ),
  // H = OrthogonalHeight + Scale z, with XAxisAbscissa = cos θ and XAxisOrdinate = sin θ.
  it('is that of the standard, y of IFC being against z', () => {
    const random = randomNumbers(3);
    for (let i = 0; i < 50; i++) {
      const theta = random() * 7 - 3.5;
      const map: MapConversion = { eastings: random() * 1e6, northings: random() * 1e6, height: random() * 1e3, rotation: theta, scale: 0.9 + random() * 0.2 };
      const [x, y, z] = [random() * 500, random() * 500, random() * 50];
      const { eastings, northings, height, scale } = map;
      const [abscissa, ordinate] = [Math.cos(theta), Math.sin(theta)];
      const expected = [eastings + scale * (x * abscissa - y * ordinate), northings + scale * (x * ordinate + y * abscissa), height + scale * z];
      onMap(map, [x, z, -y]).forEach((value, axis) => expect(value).toBeCloseTo(expected[axis], 8));
      // The matrix for files says the same, and three.js composes the same one.
      const [e, h, against] = transformPoint(intoCoordinates({ map }, 'map'), [x, z, -y]);
      [e, -against, h].forEach((value, axis) => expect(value).toBeCloseTo(expected[axis], 8));
      const three = new Matrix4().makeTranslation(eastings, height, -northings).multiply(new Matrix4().makeRotationY(theta)).scale(new Vector3(scale, scale, scale));
      expect(farthestBetween(intoCoordinates({ map }, 'map'), three.toArray())).toBeLessThan(1e-9);
    }
  }); // prettier-ignore

  it('puts the point that was said at what was said', () => {
    const there = { eastings: 1000, northings: 2000, height: 30, rotation: 0.4, scale: 1.0002 };
    const point: Vector = [12, 3, -40];
    onMap(conversionAt(point, there), point).forEach((value, i) => expect(value).toBeCloseTo([1000, 2000, 30][i], 9));
  });
});

describe('a local origin', () => {
  it('brings what is far off near, and what was left at zero comes to stand at the new origin', async () => {
    const { scene } = await farOff();
    const { scene: near, notes } = applied(scene, 'rebase', { round: 100 });
    expect(near.origin?.offset).toEqual([2_600_100, 0, -1_200_500]);
    expect(notes).toEqual(['Taken off: x 2\u2009600\u2009100\u00a0m, y 0\u00a0m, z -1\u2009200\u2009500\u00a0m.']);
    // Nothing in the tree is far from what it hangs under.
    for (const row of near.nodes) expect(Math.hypot(...row.transform.slice(12, 15))).toBeLessThan(100);
    expect(world(near, '/Left at zero').slice(12, 15)).toEqual([0, 0, 0]);
    for (const path of ['/Placed/A', '/Left at zero/B']) {
      const way = world(scene, path).map((value, i) => value - world(near, path)[i]);
      expect(way.slice(12, 15)).toEqual([2_600_100, 0, -1_200_500]);
    }
  });

  it('of random trees far off is a move of the world: to 1e-9 what three.js places, and restored to the same', async () => {
    for (let seed = 1; seed <= 4; seed++) {
      const { scene, objects, root } = await randomTree(seed);
      root.position.set(...FAR);
      root.updateMatrixWorld(true);
      const far = applied(scene, 'move', { x: FAR[0], y: FAR[1], z: FAR[2] }).scene;
      const near = applied(far, 'rebase', { spot: { at: FAR } }).scene;
      const restored = sceneIn(near, 'restored');
      const [x, , z] = near.origin?.offset as Vector;
      for (const { id, mesh } of near.nodes) {
        if (!mesh) continue;
        const there = objects[id].matrixWorld.toArray();
        expect(farthestBetween(factsOf(restored).world(id), there)).toBeLessThan(2e-9);
        expect(Math.hypot(factsOf(near).world(id)[12] - (there[12] - x), factsOf(near).world(id)[14] - (there[14] - z))).toBeLessThan(2e-9);
      }
    }
  }); // prettier-ignore

  it('taken off twice adds up, takes the map with it, and off nothing changes nothing', async () => {
    const { scene } = await farOff();
    const mapped = applied(scene, 'map', { spot: { at: FAR }, eastings: 500, northings: 700, height: 20, rotation: 0.3, scale: 1 }).scene;
    const once = applied(mapped, 'rebase', { round: 1000 }).scene;
    const twice = applied(once, 'rebase', {}).scene;
    const sum = twice.origin?.offset as Vector;
    expect(farthestBetween(world(sceneIn(twice, 'restored'), '/Placed/A'), world(scene, '/Placed/A'))).toBeLessThan(1e-9);
    onMap(twice.origin?.map as MapConversion, [FAR[0] - sum[0], 0, FAR[2] - sum[2]]).forEach((value, i) => expect(value).toBeCloseTo([500, 700, 20][i], 6));
    const { scene: same, notes } = applied(once, 'rebase', { spot: { at: [0, 0, 0] } });
    expect(same).toBe(once);
    expect(notes).toEqual(['The job lies at its origin already.']);
  }); // prettier-ignore

  it('is kept by a delivery: the file has the far places in doubles, read by another library', async () => {
    const { scene, blobs } = await farOff();
    const near = applied(scene, 'rebase', { round: 1000 }).scene;
    const mapped = applied(near, 'map', { eastings: 683_210.25, northings: 247_100.5, height: 408, rotation: Math.PI / 2, scale: 1 }).scene;
    const placeIn = async (coordinates: 'local' | 'restored' | 'map') => {
      const { output, manifest, readBack } = await sentTo(mapped, blobs, { coordinates });
      expect(readBack).toMatchObject({ holds: true });
      expect(manifest).toMatchObject({ outputs: [{ coordinates }], origin: { offset: [2_600_000, 0, -1_200_000] } });
      const document = await new WebIO().readBinary(output.files[0].bytes);
      return document.getRoot().listNodes().find((node) => node.getName() === 'B')?.getWorldTranslation() ?? [];
    };
    const expected = [FAR[0] + 8, 3, FAR[2]];
    (await placeIn('restored')).forEach((value, i) => expect(value).toBeCloseTo(expected[i], 6));
    (await placeIn('local')).forEach((value, i) => expect(value).toBeCloseTo([131.456, 3, -456.789][i], 6));
    // Turned by a quarter: x of the job points to grid north, its north to the west.
    (await placeIn('map')).forEach((value, i) => expect(value).toBeCloseTo([683_210.25 - 456.789, 411, -(247_100.5 + 131.456)][i], 6));
  }); // prettier-ignore

  it('cannot be restored, nor the map be used, where nobody said them', async () => {
    const { scene } = await farOff();
    expect(() => sceneIn(scene, 'restored')).toThrow('no local origin');
    expect(() => sceneIn(scene, 'map')).toThrow('add a step “Map coordinates”');
    expect(sceneIn(scene, 'local')).toBe(scene);
  });
});

describe('a setting-out point', () => {
  const register = (name: string) => ({ from1: { at: [0, 0, 0], on: `s:+${name}` }, to1: { at: [5, 0, 5] } });

  it('hangs under the root of its source and goes with it, and a register can be said by it', async () => {
    const { scene } = await farOff();
    const named = applied(scene, 'point', { name: 'Grid A1', spot: { at: [1, 1, 1], on: '/Placed/A' } }).scene;
    expect(named.nodes.at(-1)).toMatchObject({ name: 'Grid A1', parent: 0, source: 's' });
    const corner = [FAR[0] + 1, 1, FAR[2] + 1];
    world(named, 's:+Grid A1').slice(12, 15).forEach((value, i) => expect(value).toBeCloseTo(corner[i], 9));
    const spec = stepKind('register');
    const rows = select(named, { by: 'picked', keys: ['/Placed'] }, true);
    const after = applyStep(spec, named, rows, register('Grid A1')).scene;
    world(after, 's:+Grid A1').slice(12, 15).forEach((value, i) => expect(value).toBeCloseTo([5, 0, 5][i], 8));
    world(after, '/Placed/A').slice(12, 15).forEach((value, i) => expect(value).toBeCloseTo([4, -1, 4][i], 8));
  }); // prettier-ignore

  it('is no needless group, and dissolving leaves it', async () => {
    const { scene } = await farOff();
    const named = applied(scene, 'point', { name: 'P', spot: { at: [1, 2, 3] } }).scene;
    for (const [kind, parameters] of [['needless', { what: 'both', name: 'child' }], ['dissolve', { levels: 'all' }]] as const)
      expect(applied(named, kind, parameters).scene.nodes.map(({ name }) => name)).toContain('P');
  }); // prettier-ignore

  it('of a part that is gone is a problem, not an error', async () => {
    const { scene } = await farOff();
    const spot = { at: [0, 0, 0], on: '/Nobody' };
    for (const [kind, parameters] of [['point', { name: 'P', spot }], ['rebase', { spot }], ['map', { spot, eastings: 0, northings: 0, height: 0, rotation: 0, scale: 1 }]] as const) {
      const { scene: after, problems } = applied(scene, kind, parameters);
      expect(after).toBe(scene);
      expect(problems).toEqual(['The part on which the point was picked is no longer there: /Nobody.']);
    }
  }); // prettier-ignore
});

it('refuses what is no place on Earth, at the field', () => {
  const step = (kind: string, parameters: object) => () => checkSteps([{ id: 'a', kind, on: true, selector: { by: 'all' }, parameters }]);
  expect(step('map', { eastings: 2e9, northings: 0, height: 0, rotation: 0, scale: 1 })).toThrow('The eastings must be at most');
  expect(step('map', { eastings: 0, northings: 0, height: 0, rotation: 0, scale: 0 })).toThrow('The scale must be at least 0.5');
  expect(step('rebase', { spot: { at: [1e10, 0, 0] } })).toThrow('beyond');
  expect(step('point', { name: ' ', spot: { at: [0, 0, 0] } })).toThrow('The name is missing');
  expect(step('point', { name: 'P' })).toThrow('The point is missing');
}); // prettier-ignore
