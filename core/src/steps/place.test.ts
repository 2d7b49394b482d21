// Places against those that three.js composes, on random trees; what is there and back again is where it was to 1e-12.
import { Matrix4, Object3D, Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { factsOf } from '../scene/facts.ts';
import { SceneEditor } from '../scene/editor.ts';
import { composed, determinant, IDENTITY, translation } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { rotationAbout, rotationBetween, rotationOf, transposed } from '../scene/rotation.ts';
import { Standing } from '../scene/standing.ts';
import { worldBox } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/select.ts';
import { boxMesh } from '../testing/meshes.ts';
import { randomNumbers } from '../testing/random.ts';
import { sceneWith } from '../testing/scenes.ts';
import { farthestBetween, farthestOff, placeOf, randomTree } from '../testing/trees.ts';
import { fixedPoint, oneFixedPoint } from './about.ts';
import type { AboutParameters } from './about.ts';
import { applyStep } from './kind.ts';
import { stepKind } from './kinds.ts';

function applied(scene: Scene, kind: string, parameters: object, selector: Selector = { by: 'all' }) {
  const spec = stepKind(kind);
  return applyStep(spec, scene, select(scene, selector, spec.themselves?.(parameters)), parameters);
}
const picked = (...paths: string[]): Selector => ({ by: 'picked', keys: paths.map((path) => `/${path}`) });
const partsOf = ({ nodes }: Scene) => nodes.filter(({ kind }) => kind === 'part').map(({ id }) => id);
const at = (scene: Scene, row: number) => factsOf(scene).world(row).slice(12, 15).map((value) => Number(value.toFixed(9)) + 0); // prettier-ignore

describe('whole trees are moved as three.js moves the world around them', () => {
  const box = [1, 2, 3] as const;
  const CASES: [kind: string, parameters: object, around: () => Matrix4][] = [
    ['move', { x: 1, y: 2, z: 3 }, () => placeOf([0, 1, 0], 0, box)],
    ['rotate', { angle: 0.7, axis: 'y', about: 'origin' }, () => placeOf([0, 1, 0], 0.7, [0, 0, 0])],
    ['rotate', { angle: Math.PI / 2, axis: 'x', about: 'origin' }, () => placeOf([1, 0, 0], Math.PI / 2, [0, 0, 0])],
    ['rotate', { angle: 0.7, axis: 'picked', spot: { at: box, axis: [0, 0.6, 0.8] } }, () => placeOf([0, 0, 0], 0, box).multiply(placeOf([0, 0.6, 0.8], 0.7, [0, 0, 0])).multiply(placeOf([1, 0, 0], 0, [-1, -2, -3]))],
    ['scale', { x: 2.5, about: 'origin' }, () => new Matrix4().makeScale(2.5, 2.5, 2.5)],
    ['scale', { x: 2.5, about: 'spot', spot: { at: box } }, () => placeOf([1, 0, 0], 0, box).multiply(new Matrix4().makeScale(2.5, 2.5, 2.5)).multiply(placeOf([1, 0, 0], 0, [-1, -2, -3]))],
    ['mirror', { across: 'z', about: 'origin' }, () => new Matrix4().makeScale(1, 1, -1)],
    ['put-on', { from: { at: [0, 0, 0], axis: [1, 0, 0] }, to: { at: box, axis: [0, 1, 0] }, axes: 'along' }, () => placeOf([0, 0, 1], Math.PI / 2, box)],
  ]; // prettier-ignore
  it.each(CASES)('%s %o', async (kind, parameters, around) => {
    for (let seed = 1; seed <= 5; seed++) {
      const { scene, root, objects } = await randomTree(seed, 120, seed % 2 === 0);
      const world = new Object3D();
      world.add(root);
      world.applyMatrix4(around());
      world.matrixAutoUpdate = false;
      world.matrix.copy(around());
      world.updateMatrixWorld(true);
      const { scene: after } = applied(scene, kind, parameters);
      for (const row of partsOf(after))
        expect(farthestBetween(factsOf(after).world(row), objects[row].matrixWorld.toArray())).toBeLessThan(1e-9);
      expect(after.nodes.columns.mesh).toEqual(scene.nodes.columns.mesh);
    }
  });

  it('a rotation, a scale and a move and their opposites leave everything where it was, to 1e-12 of its size', async () => {
    const { scene } = await randomTree(11);
    const there: [string, object][] = [
      ['rotate', { angle: 0.4, axis: 'z', about: 'origin' }],
      ['scale', { x: 4, about: 'origin' }],
      ['move', { x: 3, y: -2, z: 1 }],
      ['mirror', { across: 'x', about: 'origin' }],
    ];
    const back: [string, object][] = [
      ['mirror', { across: 'x', about: 'origin' }],
      ['move', { x: -3, y: 2, z: -1 }],
      ['scale', { x: 0.25, about: 'origin' }],
      ['rotate', { angle: -0.4, axis: 'z', about: 'origin' }],
    ];
    const after = [...there, ...back].reduce((now, [kind, parameters]) => applied(now, kind, parameters).scene, scene);
    for (const row of partsOf(scene)) expect(farthestBetween(factsOf(after).world(row), factsOf(scene).world(row))).toBeLessThan(1e-12 * 100); // prettier-ignore
  });

  it('four quarter turns are none: exactly in the turn, to the last bit in the place', async () => {
    const { scene } = await sceneWith([{ name: 'A', mesh: boxMesh(1, 2, 3), transform: translation([0.1, 0.2, 0.3]) }]);
    let now = scene;
    for (let turn = 0; turn < 4; turn++) now = applied(now, 'rotate', { angle: Math.PI / 2, axis: 'y' }).scene;
    expect(now.nodes.place(0).slice(0, 12)).toEqual(scene.nodes.place(0).slice(0, 12));
    expect(farthestBetween(now.nodes.place(0), scene.nodes.place(0))).toBeLessThan(1e-15);
  });
});

describe('rows among others', () => {
  const tree = [
    { name: 'Unit', transform: composed([10, 0, 0], [0, 0, Math.SQRT1_2, Math.SQRT1_2], [1, 1, 1]), children: [
      { name: 'A', mesh: boxMesh(2, 2, 2), transform: translation([0, 5, 0]) },
      { name: 'B', mesh: boxMesh(2, 2, 2), transform: translation([0, 9, 0]) },
    ] },
    { name: 'C', mesh: boxMesh(2, 4, 2), transform: translation([0, 7, 0]) },
  ]; // prettier-ignore

  it('move along the axes of the world, of the parent, or of their own pivot', async () => {
    const { scene } = await sceneWith(tree);
    // The unit is turned by a quarter about z: its y is -x of the world.
    const moved = (along?: string) => at(applied(scene, 'move', { x: 0, y: 1, z: 0, ...(along ? { along } : {}) }, picked('Unit/A')).scene, 1); // prettier-ignore
    expect([moved(), moved('parent'), moved('own')]).toEqual([[5, 1, 0], [4, 0, 0], [4, 0, 0]]); // prettier-ignore
  });

  it('are set down each by itself, or all together, on any height', async () => {
    const { scene } = await sceneWith(tree);
    const lowest = (parameters: object) => {
      const { scene: after } = applied(scene, 'drop', parameters, picked('Unit', 'C'));
      return [1, 2, 3].map((row) => Number(worldBox(after, new Set([row]))?.min[1].toFixed(9)));
    };
    expect(lowest({ height: 0 })).toEqual([0, 0, 0]);
    expect(lowest({ height: 2, as: 'together' })).toEqual([2, 2, 8]);
  });

  it('turn each about its own pivot, or about the middle of all', async () => {
    const { scene } = await sceneWith(tree);
    const turned = (parameters: object) => applied(scene, 'rotate', { angle: Math.PI, axis: 'y', ...parameters }, picked('Unit/A', 'C')).scene; // prettier-ignore
    expect([at(turned({}), 1), at(turned({}), 3)]).toEqual([[5, 0, 0], [0, 7, 0]]); // prettier-ignore
    // From x -1 to 6: about 2.5.
    expect([at(turned({ about: 'box' }), 1), at(turned({ about: 'box' }), 3)]).toEqual([[0, 0, 0], [5, 7, 0]]); // prettier-ignore
  });

  it('mirrored keep their outside outside: the place is a mirror, the mesh the same', async () => {
    const { scene } = await sceneWith(tree);
    const { scene: after } = applied(scene, 'mirror', { across: 'x' }, picked('C'));
    expect(determinant(factsOf(after).world(3))).toBeCloseTo(-1, 12);
    expect(after.nodes.columns.mesh).toEqual(scene.nodes.columns.mesh);
    const [move, turn, size] = [new Vector3(), new Quaternion(), new Vector3()];
    new Matrix4().fromArray(factsOf(after).world(3)).decompose(move, turn, size);
    expect(size.x * size.y * size.z).toBeCloseTo(-1, 12);
  });

  it('stretched unevenly are told beforehand what shares their geometry, and what would be skewed', async () => {
    const { scene } = await sceneWith([{ name: 'Frame', children: [
      { name: 'Leaning', mesh: boxMesh(1, 1, 1), transform: composed([0, 0, 0], [0, 0, Math.sin(0.3), Math.cos(0.3)], [1, 1, 1]) },
      { name: 'Straight', mesh: boxMesh(1, 1, 1), transform: composed([3, 0, 0], [0, 0, Math.SQRT1_2, Math.SQRT1_2], [1, 1, 1]) },
    ] }]); // prettier-ignore
    const spec = stepKind('scale');
    const said = (parameters: object) => spec.beforehand?.(scene, select(scene, picked('Frame'), true), parameters);
    expect(said({ x: 2 })).toEqual([]);
    expect(said({ x: 2, y: 1 })).toEqual([
      '2 parts share their geometry with others: stretched, they still do, but only where the file can hold uneven scales.',
      '1 row is turned against what is stretched: skewed, which no place of a file can hold.',
    ]);
    expect(applied(scene, 'scale', { x: 2, y: 1 }, picked('Frame')).problems).toEqual(['1 row is skewed: Leaning.']);
  });
});

describe('the point about which a step is carried on by hand', () => {
  const before = (edit: SceneEditor, rows: readonly number[], about: AboutParameters) => {
    const fixed = fixedPoint(edit, rows, about);
    if (typeof fixed === 'string') throw new Error(fixed);
    return fixed(rows[0]);
  };

  it.each(['box', 'base', 'origin', undefined] as const)('is after a turn or a scale what it was before it: %s', async (about) => {
    for (let seed = 1; seed <= 6; seed++) {
      const { scene } = await randomTree(seed, 40);
      const rows = about ? [2, 7, 11] : [5];
      const selector: Selector = { by: 'picked', keys: rows.map((row) => scene.nodes.key(row)) };
      const { rows: top } = new Standing(new SceneEditor(scene), select(scene, selector, true));
      const given = about ? { about } : {};
      const was = before(new SceneEditor(scene), top, given);
      for (const [kind, parameters, done] of [
        ['rotate', { angle: 0.3 * seed, axis: 'x' }, rotationAbout([1, 0, 0], 0.3 * seed)],
        ['scale', { x: 0.5 + seed / 3 }, new Matrix4().makeScale(0.5 + seed / 3, 0.5 + seed / 3, 0.5 + seed / 3).toArray()],
      ] as const) {
        const { scene: after } = applied(scene, kind, { ...parameters, ...given }, selector);
        const now = oneFixedPoint(new SceneEditor(after), top, given, done) as Vector;
        expect(new Vector3(...now).distanceTo(new Vector3(...was))).toBeLessThan(1e-9);
      }
    }
  }); // prettier-ignore

  it('is none for several pivots, nor for nothing', async () => {
    const { scene } = await randomTree(3, 40);
    expect(oneFixedPoint(new SceneEditor(scene), [2, 3], {}, IDENTITY)).toContain('a pivot of its own');
    expect(oneFixedPoint(new SceneEditor(scene), [], { about: 'box' }, IDENTITY)).toContain('not locked');
  });
});

describe('a handle', () => {
  it('takes all that is at the top, with its pivot at a picked corner, and moves it', async () => {
    const { scene } = await sceneWith([
      { name: 'Hall', mesh: boxMesh(10, 4, 20), transform: translation([5, 2, 10]) },
      { name: 'Roof', mesh: boxMesh(10, 1, 20), transform: translation([5, 4.5, 10]) },
    ]);
    const spot = { at: [-5, -2, -10] as const, on: '/Hall' };
    const { scene: held } = applied(scene, 'handle', { name: 'Site corner', spot });
    const handle = held.nodes.find(({ name }) => name === 'Site corner')!;
    expect(at(held, handle.id)).toEqual([0, 0, 0]);
    expect(held.nodes.filter(({ parent }) => parent === handle.id).map(({ name }) => name)).toEqual(['Hall', 'Roof']);
    const { scene: moved } = applied(held, 'rotate', { angle: Math.PI / 2, axis: 'y' }, { by: 'picked', keys: [handle.key] }); // prettier-ignore
    expect(worldBox(moved)?.min.map((value) => Math.round(value * 1e9) / 1e9 + 0)).toEqual([0, 0, -10]);
  });

  it('of nothing picked stands in the middle of the base', async () => {
    const { scene } = await sceneWith([{ name: 'Hall', mesh: boxMesh(10, 4, 20), transform: translation([5, 2, 10]) }]);
    const { scene: held } = applied(scene, 'handle', { name: '{source}' });
    expect([held.nodes.at(-1)?.name, at(held, 1)]).toEqual(['test.stp', [5, 0, 10]]);
  });
});

describe('what is locked', () => {
  const tree = [{ name: 'Unit', children: [{ name: 'A', mesh: boxMesh(1, 1, 1) }, { name: 'B', mesh: boxMesh(1, 1, 1) }] }]; // prettier-ignore

  it.each(['move', 'rotate', 'scale', 'mirror', 'drop', 'put-on'])('is not moved by %s, nor by what holds it', async (kind) => {
    const { scene } = await sceneWith(tree);
    const locked = applied(scene, 'lock', { lock: 'locked' }, picked('Unit/A')).scene;
    const parameters = { move: { x: 1, y: 1, z: 1 }, rotate: { angle: 1, axis: 'x', about: 'origin' }, scale: { x: 2, about: 'origin' }, mirror: { across: 'x', about: 'origin' }, drop: { height: 7 }, 'put-on': { from: { at: [0, 0, 0] }, to: { at: [1, 1, 1] } } }[kind] as object; // prettier-ignore
    const { scene: after, problems } = applied(locked, kind, parameters, picked('Unit'));
    expect(after).toBe(locked);
    expect(problems).toEqual(['1 row is locked and stays: Unit.']);
    // Its neighbour is free, and it is when it was freed.
    expect(applied(locked, kind, parameters, picked('Unit/B')).changed).toBeGreaterThan(0);
    const free = applied(locked, 'lock', { lock: 'free' }, picked('Unit')).scene;
    expect(applied(free, kind, parameters, picked('Unit')).problems).toEqual([]);
  }); // prettier-ignore
});

describe('a branch', () => {
  const tree = [{ name: 'Lamp', transform: translation([3, 0, 0]), children: [{ name: 'Post', mesh: boxMesh(1, 2, 4), transform: translation([1, 0, 0]) }] }]; // prettier-ignore

  it('that was read in millimetres and is in inches is 25.4 times as large about its pivot', async () => {
    const { scene } = await sceneWith(tree);
    const { scene: after, notes } = applied(scene, 'branch', { read: 'mm', is: 'inch' }, picked('Lamp'));
    expect(worldBox(after)?.min[0]).toBeCloseTo(3 + 25.4 * 0.5, 9);
    expect(worldBox(after)?.max[2]).toBeCloseTo(25.4 * 2, 9);
    expect(notes).toEqual(['× 25.4']);
  });

  it.each([
    ['z', 2],
    ['-x', 0.5],
    ['y', 1],
  ] as const)('whose %s points up stands upright, %d m to its middle', async (up, height) => {
    const { scene } = await sceneWith(tree);
    const box = worldBox(applied(scene, 'branch', { up }, picked('Lamp')).scene);
    expect(((box?.max[1] ?? 0) - (box?.min[1] ?? 0)) / 2).toBeCloseTo(height, 9);
  });

  it('is as large as two of its points are known to be apart, and the first stays', async () => {
    const { scene } = await sceneWith(tree);
    const spots = { from: { at: [-0.5, -1, -2], on: '/Lamp/Post' }, to: { at: [-0.5, -1, 2], on: '/Lamp/Post' } };
    const { scene: after, notes } = applied(scene, 'calibrate', { ...spots, length: 1 }, picked('Lamp'));
    expect(worldBox(after)?.min.map((value) => value.toFixed(9))).toEqual(['3.500000000', '-1.000000000', '-2.000000000']); // prettier-ignore
    expect(worldBox(after)?.max.map((value) => value.toFixed(9))).toEqual(['3.750000000', '-0.500000000', '-1.000000000']); // prettier-ignore
    expect(notes?.[0].replace(/[\u00a0\u2009]/g, ' ')).toBe('4 000 mm are 1 000 mm: × 0.25.');
    const same = applied(scene, 'calibrate', { from: spots.from, to: spots.from, length: 1 }, picked('Lamp'));
    expect(same.scene).toBe(scene);
    expect(same.problems).toEqual(['Both points lie on one spot: their distance says nothing.']);
  });
});

describe('sources put in register', () => {
  const tree = [
    { name: 'Hall', mesh: boxMesh(10, 4, 20) },
    { name: 'Lift', mesh: boxMesh(2, 6, 2), transform: translation([100, 50, 7]) },
  ];

  it('by two points of both stand as these say, and what is left over is stated', async () => {
    const { scene } = await sceneWith(tree);
    const spots = {
      from1: { at: [-1, -3, -1], on: '/Lift' },
      to1: { at: [5, -2, 10], on: '/Hall' },
      from2: { at: [1, -3, -1], on: '/Lift' },
      to2: { at: [5, -2, 7.99], on: '/Hall' },
    };
    const { scene: after, problems, notes } = applied(scene, 'register', spots, picked('Lift'));
    expect(problems).toEqual([]);
    expect(notes?.[0].replaceAll('\u00a0', ' ')).toBe('2 points in register; left over: 5 mm, 5 mm.');
    // Its x goes along -z of the hall, its foot on the floor.
    const box = worldBox(after, new Set([1]));
    expect([box?.min[0], box?.min[1], box?.max[2]].map((value) => value?.toFixed(6))).toEqual(['5.000000', '-2.000000', '9.995000']); // prettier-ignore
  });

  it('by points on one spot or one line are refused in words, and nothing moves', async () => {
    const { scene } = await sceneWith(tree);
    const at = (x: number) => ({ at: [x, 0, 0] as const });
    const spot = applied(scene, 'register', { from1: at(0), to1: at(1), from2: at(0), to2: at(2) }, picked('Lift'));
    expect([spot.scene, spot.problems]).toEqual([scene, ['The moved points lie on one spot.']]);
    const line = applied(scene, 'register', { from1: at(0), to1: at(1), from2: at(1), to2: at(2), from3: at(2), to3: at(3) }, picked('Lift')); // prettier-ignore
    expect(line.problems[0]).toContain('The moved points lie on one line');
    expect(() => stepKind('register').schema.validateSync({ from1: at(0) }, { strict: true })).toThrow('are missing');
  });
});

describe('rotations', () => {
  it('are those of three.js', () => {
    const random = randomNumbers(5);
    for (let run = 0; run < 200; run++) {
      const axis = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
      const angle = random() * 12 - 6;
      const theirs = new Matrix4().makeRotationAxis(axis, angle).toArray();
      expect(farthestBetween(rotationAbout(axis.toArray(), angle), theirs)).toBeLessThan(1e-14);
      const other = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
      const between = new Matrix4().makeRotationFromQuaternion(new Quaternion().setFromUnitVectors(axis, other));
      expect(farthestBetween(rotationBetween(axis.toArray(), other.toArray()), between.toArray())).toBeLessThan(1e-12);
      const turned = new Matrix4().compose(new Vector3(), new Quaternion().setFromAxisAngle(axis, angle), new Vector3(3, 0.2, 7)); // prettier-ignore
      expect(farthestBetween(rotationOf(turned.toArray()), theirs)).toBeLessThan(1e-12);
      expect(farthestBetween(transposed(theirs), new Matrix4().fromArray(theirs).invert().toArray())).toBeLessThan(1e-12); // prettier-ignore
    }
  });

  it('between opposite directions are half a turn', () => {
    for (const [x, y, z] of [[1, 0, 0], [0, 1, 0], [0.6, 0, 0.8]] as const) {
      const turn = rotationBetween([x, y, z], [-x, -y, -z]);
      expect([turn[0] * x + turn[4] * y + turn[8] * z, turn[1] * x + turn[5] * y + turn[9] * z, turn[2] * x + turn[6] * y + turn[10] * z].map((v) => v.toFixed(9))).toEqual([-x, -y, -z].map((v) => v.toFixed(9))); // prettier-ignore
      expect(determinant(turn)).toBeCloseTo(1, 12);
    }
  }); // prettier-ignore
});

it.each([
  ['scale', { x: 0 }, 'The scale along x must be at least 0.000001.'],
  ['scale', { x: 1, about: 'spot' }, 'The point is missing'],
  ['put-on', {}, 'The point that is moved is missing: pick it in the view.'],
  ['put-on', { from: { at: [0, 0, 0] } }, 'The point that it is put on is missing: pick it in the view.'],
  ['rotate', { angle: 1, axis: 'picked' }, 'The axis is missing: pick a circle, a hole or a shaft in the view.'],
  ['move', { x: 1e10, y: 0, z: 0 }, 'The x must be at most'],
])('%s %o is refused: %s', (kind, parameters, words) => {
  expect(() => stepKind(kind).schema.validateSync(parameters, { strict: true })).toThrow(words);
});

it('three.js agrees about a tree that nobody moved', async () => {
  const { scene, objects } = await randomTree(2);
  for (const row of partsOf(scene)) expect(farthestOff(scene, row, objects[row])).toBeLessThan(1e-9);
});
