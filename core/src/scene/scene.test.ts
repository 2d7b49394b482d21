import { describe, expect, it } from 'vitest';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { canonicalJson, hashBytes, hashData, hashPlaces } from './hash.ts';
import { IDENTITY, determinant, invert, isIdentity, multiply, transformPoint, translation } from './matrix.ts';
import { mergeSlots } from '../preparation/slots.ts';
import { mergeScenes } from './merge.ts';
import { factsOf } from './facts.ts';
import { takeOff } from './facts.ts';
import { withDescendants, worldBox } from './tree.ts';

describe('hashes', () => {
  it('are SHA-256: the examples of FIPS 180-4', () => {
    expect(hashBytes(new TextEncoder().encode('abc'))).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    );
    expect(hashBytes(new Uint8Array())).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
  });

  it('do not depend on the order of members, nor on members that are undefined', () => {
    expect(hashData({ a: 1, b: [2, { c: 3 }] })).toBe(hashData({ b: [2, { c: 3, d: undefined }], a: 1 }));
    expect(hashData([1, 2])).not.toBe(hashData([2, 1]));
    expect(canonicalJson({ b: undefined, a: null })).toBe('{"a":null}');
  });
});

describe('matrices', () => {
  const turned = [0.6, 0.8, 0, 0, -0.8, 0.6, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1];
  it('inverted and multiplied give the identity', () =>
    expect(isIdentity(multiply(turned, invert(turned)), 1e-12)).toBe(true));
  it('apply the right one first', () => {
    expect(transformPoint(multiply(translation([1, 0, 0]), turned), [1, 0, 0])).toEqual([6.6, 6.8, 7]);
  });
  it('know a mirror by its determinant', () => {
    expect(determinant([-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])).toBe(-1);
    expect(determinant(turned)).toBeCloseTo(1, 12);
  });
  it('that cannot be inverted give the identity', () => expect(invert(new Array(16).fill(0))).toEqual([...IDENTITY]));
});

describe('tree and take-off', () => {
  const make = () =>
    sceneWith([
      {
        name: 'A',
        transform: translation([10, 0, 0]),
        children: [
          { name: 'B', mesh: boxMesh(1, 1, 1), transform: translation([1, 0, 0]), layer: 'L' },
          { name: 'B', mesh: boxMesh(1, 1, 1), transform: translation([3, 0, 0]) },
          { name: 'C', children: [{ name: 'D', mesh: ballMesh(1, 8) }] },
        ],
      },
    ]);

  it('counts drawn and stored triangles apart', async () => {
    const { scene } = await make();
    expect(factsOf(scene).drawnTriangles).toBe(24 + 224);
    expect(takeOff(scene)).toEqual({
      parts: 3,
      meshes: 2,
      triangles: 24 + 224,
      uniqueTriangles: 12 + 224,
      drawCalls: 2,
      materials: 1,
      layers: 1,
    });
    expect([...factsOf(scene).triangles]).toEqual([248, 12, 12, 224, 224]);
  });

  it('finds what is below, and where', async () => {
    const { scene } = await make();
    expect([...withDescendants(scene, new Set([3]))]).toEqual([3, 4]);
    expect(worldBox(scene, new Set([1, 2]))).toEqual({
      min: [10.5, -0.5, -0.5],
      max: [13.5, 0.5, 0.5],
    });
    expect(worldBox(scene, new Set([0]))).toBeUndefined();
  });

  it('measures turned parts by their vertices where it has them', async () => {
    const c = Math.SQRT1_2;
    const { scene, blobs } = await sceneWith([
      { name: 'Ball', mesh: ballMesh(1, 64), transform: [c, c, 0, 0, -c, c, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1] },
    ]);
    const { unpackMesh } = await import('../mesh/mesh.ts');
    const { positions } = unpackMesh(await blobs.get(scene.nodes.at(0)!.mesh as string));
    const rough = worldBox(scene);
    const exact = worldBox(scene, undefined, () => positions);
    expect(rough?.max[0]).toBeCloseTo(Math.SQRT2, 3);
    expect(exact?.max[0]).toBeCloseTo(1, 3);
  });

  it('merges sources without mixing ids or keys', async () => {
    const [a, b] = [(await make()).scene, (await make()).scene];
    b.sources[0] = { ...b.sources[0], id: 't' };
    const merged = mergeScenes([a, b]);
    expect(new Set(merged.nodes.map((node) => node.id)).size).toBe(10);
    expect(new Set(merged.nodes.map((node) => node.key)).size).toBe(10);
    expect(merged.nodes.at(6)!.parent).toBe(5);
    expect(takeOff(merged).triangles).toBe(2 * takeOff(a).triangles);
    expect(takeOff(merged).meshes).toBe(2);
  });
});

describe('a hash of places', () => {
  it('is the same where engines differ in the last bit, and another where a place is another', () => {
    const place = [Math.sin(0.7), 683_210.437, -0, 1e-17];
    const other = place.map((value) => value * (1 + 2 ** -52));
    expect(hashPlaces({ place })).toBe(hashPlaces({ place: other }));
    expect(hashPlaces({ place: [0] })).toBe(hashPlaces({ place: [-0] }));
    expect(hashPlaces({ place })).not.toBe(hashPlaces({ place: [place[0] + 1e-6, ...place.slice(1)] }));
    expect(hashData({ place })).not.toBe(hashData({ place: other }));
  });
});

it('a path without a source is a key too: that of the first source that has it', async () => {
  const { scene } = await sceneWith([{ name: 'Station', children: [{ name: 'Fence', mesh: boxMesh(1, 1, 1) }] }]);
  const facts = factsOf(mergeSlots(['f1', 'f2'].map((slot) => ({ slot, scene }))));
  expect(facts.rowOf('f2:/Station/Fence')).toBe(3);
  expect(facts.rowOf('/Station/Fence')).toBe(1);
  expect(facts.rowOf('/Station/Gate')).toBeUndefined();
});
