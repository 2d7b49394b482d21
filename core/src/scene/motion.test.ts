// Formulas: glTF 2.0 appendix C. Second opinion: the interpolants and matrices of three.js.
import { Matrix4, Quaternion, QuaternionLinearInterpolant, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { applyStep } from '../steps/kind.ts';
import { pivotStep } from '../steps/pivot.ts';
import { turnStep } from '../steps/turn.ts';
import { unitStep } from '../steps/unit.ts';
import { upStep } from '../steps/up.ts';
import type { Scene } from './types.ts';
import { composed, IDENTITY, multiply, transformPoint, translation } from './matrix.ts';
import {
  decomposed,
  keyTimes,
  movingAnimations,
  placeAt,
  placesAt,
  restPlace,
  sample,
  slerp,
  timesBetween,
} from './motion.ts';
import { placedTrack } from './placedTrack.ts';
import type { Channel, Track } from './motion.ts';
import type { Matrix } from './matrix.ts';
import { NodeTable } from './nodes.ts';
import { nodeTable } from './nodeWriter.ts';

const HALF = Math.SQRT1_2;
const close = (a: readonly number[], b: readonly number[], digits = 9) => {
  expect(a).toHaveLength(b.length);
  a.forEach((value, i) => expect(value).toBeCloseTo(b[i], digits));
};

describe('a value between its keys', () => {
  const moves = (interpolation: Channel['interpolation'], values = [0, 0, 0, 10, 20, 30]): Channel => ({
    times: [1, 3],
    values,
    interpolation,
  });

  it.each([
    ['before the first key', 'linear', 0, [0, 0, 0]],
    ['half way', 'linear', 2, [5, 10, 15]],
    ['a quarter of the way', 'linear', 1.5, [2.5, 5, 7.5]],
    ['at the last key', 'linear', 3, [10, 20, 30]],
    ['after the last key', 'linear', 99, [10, 20, 30]],
    ['in a step, until the next key', 'step', 2.999, [0, 0, 0]],
    ['in a step, at the next key', 'step', 3, [10, 20, 30]],
  ] as const)('%s (%s)', (_, interpolation, time, expected) => {
    close(sample(moves(interpolation), time, 'translation'), expected);
  });

  it('follows a cubic by its tangents', () => {
    // x = t² for t from 0 to 2: slopes 0 and 4. Hermite's cubic is exact for it.
    const cubic: Channel = {
      times: [0, 2],
      values: [0, 0, 0, 0, 0, 0, 0, 0, 0, 4, 0, 0, 4, 0, 0, 4, 0, 0],
      interpolation: 'cubic',
    };
    for (const t of [0, 0.3, 1, 1.7, 2]) expect(sample(cubic, t, 'translation')[0]).toBeCloseTo(t * t, 12);
  });

  it('turns the shorter way, as three.js does', () => {
    const a = [0, 0, 0, 1];
    const b = new Quaternion().setFromAxisAngle(new Vector3(1, 2, 3).normalize(), 2.4).toArray();
    const three = new QuaternionLinearInterpolant(
      Float64Array.of(0, 1),
      Float64Array.from([...a, ...b]),
      4,
      new Float64Array(4),
    );
    for (const t of [0.1, 0.5, 0.9]) {
      const expected = [...(three.evaluate(t) as Float64Array)];
      close(slerp(a, b, t), expected);
      const other = slerp(
        a,
        b.map((value) => -value),
        t,
      );
      close(other, expected);
    }
  });
});

describe('a place', () => {
  it.each([
    ['turned about x by a half', [3, 4, 5], new Quaternion(1, 0, 0, 0), [1, 1, 1]],
    ['turned and scaled', [1, 2, 3], new Quaternion(0.1, 0.2, 0.3, 0.4).normalize(), [2, 3, 4]],
    ['mirrored', [0, 0, 0], new Quaternion(0, HALF, 0, HALF), [-1, 1, 1]],
  ])('is taken apart as three.js puts it together: %s', (_, move, turn, scale) => {
    const matrix = new Matrix4().compose(new Vector3(...move), turn, new Vector3(...scale));
    const parts = decomposed(matrix.toArray());
    close(composed(parts.translation, parts.rotation, parts.scale), matrix.toArray());
  });
});

/** A barrier: its arm turns by a quarter about z, two metres from the post. */
const track: Track = {
  rotation: { times: [0, 4], values: [0, 0, 0, 1, 0, 0, HALF, HALF], interpolation: 'linear' },
  translation: { times: [0, 2], values: [2, 0, 0, 2, 1, 0], interpolation: 'linear' },
};
const rest = translation([2, 0, 0]);
const barrier = (): Scene => ({
  sources: [
    {
      ...{ id: 's', name: 'a.glb', format: 'glTF', schema: '', producer: '', units: ['m'], bytes: 1, warnings: [] },
      unit: { name: 'm', metres: 1, declared: true },
      upAxis: { axis: 'z', by: 'convention' },
      up: 'z',
    },
  ],
  nodes: nodeTable([
    {
      ...{ id: 0, key: '/Arm', parent: null, name: 'Arm', kind: 'part', source: 's', materials: [], layer: null },
      transform: rest,
      mesh: 'm',
      motion: { tracks: { a: 0 }, rest },
    },
  ]),
  meshes: {
    m: {
      ...{ triangles: 1, vertices: 3, area: 1, volume: 0, slots: [1], edges: 0, bytes: 1 },
      bounds: { min: [0, 0, 0], max: [4, 0.2, 0.1] },
    },
  },
  solids: {},
  materials: {},
  textures: {},
  layers: [],
  animations: { a: { id: 'a', name: 'open', source: 's', duration: 4, nodes: 1 } },
});
const all = new Set([0]);
const none = () => undefined;

describe('what is done to a node that moves', () => {
  /** Where a point of the geometry is, in the world, at a time. */
  const pointAt = (scene: Scene, point: [number, number, number], time: number) => {
    const [{ motion, offset = IDENTITY }] = scene.nodes;
    const place: Matrix = motion ? placeAt(motion, track, time) : IDENTITY;
    return transformPoint(multiply(place, offset), point);
  };
  const tip: [number, number, number] = [4, 0, 0];

  it('starts from the barrier as received', () => {
    close(pointAt(barrier(), tip, 0), [6, 0, 0]);
    // Up by one metre and turned by a quarter.
    close(pointAt(barrier(), tip, 4), [2, 5, 0]);
  });

  it.each([
    [
      'another pivot',
      applyStep(pivotStep, barrier(), all, { place: 'base-centre', of: 'parts' }, none).scene,
      (p: number[]) => p,
    ],
    [
      'another up axis',
      applyStep(turnStep, barrier(), all, { direction: 'z-to-y' }, none).scene,
      ([x, y, z]: number[]) => [x, z, -y],
    ],
    [
      'half a turn',
      applyStep(upStep, barrier(), all, { axis: '-z' }, none).scene,
      ([x, y, z]: number[]) => [x, -y, -z],
    ],
    [
      'pivot and then up axis',
      applyStep(
        turnStep,
        applyStep(pivotStep, barrier(), all, { place: 'box-centre', of: 'parts' }, none).scene,
        all,
        { direction: 'z-to-y' },
        none,
      ).scene,
      ([x, y, z]: number[]) => [x, z, -y],
    ],
  ])('%s: it goes on moving as before', (_, scene, expected) => {
    const [{ motion, transform }] = scene.nodes;
    if (!motion) throw new Error('It lost its movement.');
    close(restPlace(motion), transform);
    for (const time of [0, 1, 2.5, 4]) close(pointAt(scene, tip, time), expected(pointAt(barrier(), tip, time)));
    // And so it is written: the same places from keys alone.
    const written = placedTrack(motion, track);
    for (const time of keyTimes(written))
      close(placeAt({ tracks: {}, rest: transform }, written, time), placeAt(motion, track, time), 7);
  });

  it('another unit: all of it grows', () => {
    const { scene } = applyStep(
      unitStep,
      applyStep(pivotStep, barrier(), all, { place: 'base-centre', of: 'parts' }, none).scene,
      all,
      { factor: 10, reason: '' },
      none,
    );
    const [{ motion, transform }] = scene.nodes;
    close(restPlace(motion!), transform);
    close(
      pointAt(scene, [40, 0, 0], 4),
      pointAt(barrier(), tip, 4).map((value) => value * 10),
    );
  });
});

describe('animations', () => {
  it('are those that still move something', () => {
    const scene = barrier();
    expect(movingAnimations(scene)).toMatchObject([{ name: 'open', nodes: 1 }]);
    expect(movingAnimations({ ...scene, nodes: NodeTable.EMPTY })).toEqual([]);
    expect([...placesAt(scene, 'a', { tracks: [track] }, 0).keys()]).toEqual([0]);
    // Another animation moves nothing of it.
    expect(placesAt(scene, 'b', { tracks: [track] }, 0).size).toBe(0);
  });
});

describe('keys of a movement that is written by its places', () => {
  it('are close enough for what turns, and hold where nothing was done', () => {
    expect(placedTrack({ tracks: {}, rest }, track)).toBe(track);
    expect(placedTrack({ tracks: {}, rest, growth: 2 }, track).translation?.values).toEqual([4, 0, 0, 4, 2, 0]);
    const turned = placedTrack({ tracks: {}, rest, after: translation([1, 0, 0]) }, track);
    // A quarter turn in steps of at most two degrees.
    expect(keyTimes(turned).length).toBeGreaterThanOrEqual(45);
    // Between its keys the tip leaves the circle by less than a five thousandth of its radius.
    const motion = { tracks: {}, rest, after: translation([1, 0, 0]) };
    for (const time of [0.07, 1.11, 3.33]) {
      const expected = transformPoint(placeAt(motion, track, time), [3, 0, 0]);
      const found = transformPoint(placeAt({ tracks: {}, rest: restPlace(motion) }, turned, time), [3, 0, 0]);
      expect(Math.hypot(...found.map((value, i) => value - expected[i]))).toBeLessThan(3 / 5000);
    }
  });

  it('are no more than the time asks for', () => {
    expect(timesBetween([0, 1], () => 0)).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(timesBetween([0, 0.01], () => Math.PI)).toEqual([0, 0.01]);
  });
});
