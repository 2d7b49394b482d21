import { BoxGeometry, PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { translation } from '@noble-prism/core/scene/matrix';
import { factsOf } from '@noble-prism/core/scene/facts';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { SceneNode } from '@noble-prism/core/scene/types';
import type { ViewGeometry } from './geometry.ts';
import { rowsWithin } from './rectangle.ts';
import type { Rectangle } from './rectangle.ts';

/** Cubes of 1 m along x at z = 0, seen from 10 m in front; and a wall behind all of them. */
const geometryOf = (box: BoxGeometry): ViewGeometry => {
  box.computeBoundingBox();
  const positions = box.getAttribute('position').array as Float32Array;
  return { surface: box, edges: box, positions, slots: [0], shape: 'triangles', coloured: false };
};
const known: Record<string, ViewGeometry> = {
  cube: geometryOf(new BoxGeometry(1, 1, 1)),
  wall: geometryOf(new BoxGeometry(60, 40, 0.2)),
};
const part = (id: number, mesh: string, x: number, z = 0): SceneNode => ({
  id, key: `/${id}`, parent: null, name: mesh, kind: 'part', source: 's', layer: null, materials: [], mesh, transform: translation([x, 0, z]),
}); // prettier-ignore
const nodes = [part(0, 'cube', -4), part(1, 'cube', 0), part(2, 'cube', 4), part(3, 'wall', 0, -6), part(4, 'cube', 0, 40)]; // prettier-ignore
const scene = { ...EMPTY_SCENE, nodes: nodeTable(nodes) };
const camera = new PerspectiveCamera(40, 800 / 600, 0.1, 1000);
camera.position.set(0, 0, 10);
camera.updateMatrixWorld();
const picture = { scene, rows: new Set(nodes.keys()), worlds: factsOf(scene).worlds, geometry: { get: (mesh: string) => known[mesh] }, camera, width: 800, height: 600 }; // prettier-ignore
const at = (x: number, y: number, z: number) => {
  const flat = new Vector3(x, y, z).project(camera);
  return { x: ((flat.x + 1) / 2) * 800, y: ((1 - flat.y) / 2) * 600 };
};
const around = (x: number, reach: number): Rectangle => {
  const [a, b] = [at(x - reach, reach, 0.5), at(x + reach, -reach, 0.5)];
  return { left: a.x, top: a.y, right: b.x, bottom: b.y };
};

describe('a rectangle in the picture', () => {
  it('takes what lies wholly inside, whatever stands behind it', () => {
    expect(rowsWithin(picture, around(0, 0.6), 'inside')).toEqual([1]);
    expect(rowsWithin(picture, around(0, 5), 'inside')).toEqual([0, 1, 2]);
    // Smaller than the cube: nothing is wholly inside.
    expect(rowsWithin(picture, around(0, 0.3), 'inside')).toEqual([]);
  });

  it('takes what it touches, also where it lies within a single triangle of it', () => {
    expect(rowsWithin(picture, around(0, 0.3), 'touched')).toEqual([1, 3]);
    expect(rowsWithin(picture, around(2, 0.1), 'touched')).toEqual([3]);
    expect(rowsWithin(picture, around(0, 3.6), 'touched')).toEqual([0, 1, 2, 3]);
  });

  it('takes nothing behind the eye, nothing that is hidden, and nothing beside it', () => {
    expect(rowsWithin(picture, { left: 0, top: 0, right: 800, bottom: 600 }, 'touched')).toEqual([0, 1, 2, 3]);
    expect(rowsWithin({ ...picture, rows: new Set([2]) }, around(0, 5), 'touched')).toEqual([2]);
    // Near the corner of a box that is round the corner on the screen: boxes overlap, triangles do not.
    expect(rowsWithin({ ...picture, rows: new Set([0, 1, 2]) }, around(2, 0.1), 'touched')).toEqual([]);
  });
});
