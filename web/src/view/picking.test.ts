// What is picked is what three.js' own raycaster would hit, on meshes that are turned, scaled and stand one behind the other.
import {
  BoxGeometry,
  BufferGeometry,
  Mesh,
  MeshBasicMaterial,
  Quaternion,
  Ray,
  Raycaster,
  SphereGeometry,
  Vector3,
} from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { composed } from '@noble-prism/core/scene/matrix';
import { factsOf } from '@noble-prism/core/scene/facts';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, SceneNode } from '@noble-prism/core/scene/types';
import { randomNumbers } from '@noble-prism/core/testing/random';
import type { GeometryStore } from './geometry.ts';
import { rowsInFront } from './inFront.ts';
import { Picker } from './picking.ts';

function known(surface: BufferGeometry) {
  surface.computeBoundingSphere();
  const positions = surface.getAttribute('position').array as Float32Array;
  return { surface, tree: new MeshBVH(surface), positions };
}
const KNOWN: Record<string, ReturnType<typeof known>> = {
  box: known(new BoxGeometry(1, 1, 1)),
  ball: known(new SphereGeometry(1, 24, 16)),
};
const store = { get: (mesh: string) => KNOWN[mesh] } as unknown as GeometryStore;

const turn = new Quaternion().setFromAxisAngle(new Vector3(1, 2, 0).normalize(), 0.7).toArray();
type Place = [name: string, mesh: string, place: number[]];
const PLACES: Place[] = [
  ['near box', 'box', composed([0, 0, 5], turn, [1, 2, 1])],
  ['far box', 'box', composed([0.4, 0, -5], [0, 0, 0, 1], [4, 4, 4])],
  ['ball', 'ball', composed([3, 1, 0], turn, [1, 0.5, 2])],
];
function sceneOf(places: Place[]) {
  const nodes = places.map(([name, mesh, transform], id): SceneNode => ({
    ...{ id, key: `/${name}`, parent: null, name, kind: 'part', source: 's', materials: [], layer: null },
    ...{ transform, mesh },
  }));
  return { ...EMPTY_SCENE, nodes: nodeTable(nodes) };
}
const scene = sceneOf(PLACES);

/** The same parts for the raycaster of three.js. */
function meshesOf(places: Place[]) {
  return places.map(([name, mesh, place]) => {
    const made = new Mesh(KNOWN[mesh].surface, new MeshBasicMaterial({ side: 2 }));
    made.name = name;
    made.matrixWorld.fromArray(place);
    return made;
  });
}
const meshes = meshesOf(PLACES);

describe('the part under the pointer', () => {
  const picker = new Picker(store);
  picker.setParts(scene, new Set([0, 1, 2]), factsOf(scene).worlds);

  it('is the one that three.js hits first among many that stand anywhere', () => {
    const random = randomNumbers(9);
    const somewhere = (size: number) => [0, 1, 2].map(() => (random() - 0.5) * size);
    const places = Array.from({ length: 500 }, (_, i): Place => {
      const size = 0.2 + random() * (i % 50 === 0 ? 9 : 1);
      const place = composed(somewhere(60), new Quaternion().random().toArray(), [size, size / 2, size]);
      return [`Part ${i}`, i % 3 === 0 ? 'ball' : 'box', place];
    });
    const many = new Picker(store);
    const manyParts = sceneOf(places);
    many.setParts(manyParts, new Set(places.keys()), factsOf(manyParts).worlds);
    const theirs = meshesOf(places);
    let hits = 0;
    for (let i = 0; i < 300; i++) {
      // From outside and from between them.
      const from = new Vector3(...somewhere(i % 2 === 0 ? 200 : 40));
      const direction = new Vector3(...somewhere(30)).sub(from).normalize();
      const [expected] = new Raycaster(from, direction).intersectObjects(theirs);
      expect(many.pick(new Ray(from, direction))?.node.name).toBe(expected?.object.name);
      if (expected) hits++;
    }
    expect(hits).toBeGreaterThan(30);
  });

  it('is the one that three.js hits first, at the same point', () => {
    let hits = 0;
    for (let i = 0; i < 200; i++) {
      // Rays from a circle around, towards points near the middle.
      const from = new Vector3(Math.cos(i) * 20, Math.sin(i * 0.7) * 8, Math.sin(i) * 20);
      const to = new Vector3(((i * 37) % 11) / 2 - 2.5, ((i * 17) % 7) / 2 - 1.5, ((i * 23) % 13) - 6);
      const direction = to.sub(from).normalize();
      const [expected] = new Raycaster(from, direction).intersectObjects(meshes);
      const found = picker.pick(new Ray(from, direction));
      expect(found?.node.name).toBe(expected?.object.name);
      if (!found) continue;
      hits++;
      expect(found.point.distanceTo(expected.point)).toBeLessThan(1e-6);
      // In the frame of its mesh the point lies on the mesh: what is snapped to is looked for there.
      const local = found.point.clone().applyMatrix4(found.world.clone().invert());
      expect(store.get(found.mesh)?.tree?.closestPointToPoint(local)?.distance).toBeLessThan(1e-6);
    }
    expect(hits).toBeGreaterThan(30);
  });

  it('is none where nothing stands, or where its geometry has not arrived', () => {
    const down = new Ray(new Vector3(50, 50, 50), new Vector3(0, 1, 0));
    expect(picker.pick(down)).toBeUndefined();
    const empty = new Picker({ get: () => undefined } as unknown as GeometryStore);
    empty.setParts(scene, new Set([0, 1, 2]), factsOf(scene).worlds);
    expect(empty.pick(new Ray(new Vector3(0, 0, 20), new Vector3(0, 0, -1)))).toBeUndefined();
  });
});

describe('what stands in front', () => {
  const picker = new Picker(store);
  picker.setParts(scene, new Set([0, 1, 2]), factsOf(scene).worlds);
  const boxOfFar = { min: [-1.6, -2, -7], max: [2.4, 2, -3] } as Box;
  const inFront = (eye: Vector3, wanted: number) => [...rowsInFront(picker, eye, new Set([wanted]), boxOfFar, 3)];

  it.each([
    [0, 0, 20],
    [0, 0, -20],
    [9, 2, 9],
    [-12, 4, 3],
  ])('is what three.js hits before the parts, seen from %d, %d, %d', (x, y, z) => {
    const eye = new Vector3(x, y, z);
    const expected = new Set<string>();
    const at = (axis: number, i: number) =>
      boxOfFar.min[axis] + ((boxOfFar.max[axis] - boxOfFar.min[axis]) * (i + 0.5)) / 5;
    for (let i = 0; i < 125; i++) {
      const point = new Vector3(at(0, i % 5), at(1, Math.floor(i / 5) % 5), at(2, Math.floor(i / 25)));
      const hits = new Raycaster(eye, point.sub(eye).normalize())
        .intersectObjects(meshes)
        .map(({ object }) => object.name);
      if (hits.includes('far box')) for (const name of hits.slice(0, hits.indexOf('far box'))) expected.add(name);
    }
    expect(
      inFront(eye, 1)
        .map((row) => PLACES[row][0])
        .sort(),
    ).toEqual([...expected].sort());
  });

  it('is nothing from where nothing stands before them', () => {
    expect(inFront(new Vector3(0, 0, -20), 1)).toEqual([]);
    expect(inFront(new Vector3(0, 0, 20), 1)).toContain(0);
  });

  it('is nothing where the parts are not in sight at all', () => {
    expect(inFront(new Vector3(0, 0, 20), 2)).toEqual([]);
  });
});
