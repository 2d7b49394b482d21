// Where the lines of a camera lie: the pyramid of a lens is as tall at unit distance as twice the tangent of half its angle.
import { LineBasicMaterial, LineSegments, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { composed, IDENTITY, translation } from '@noble-prism/core/scene/matrix';
import type { Box, SceneNode } from '@noble-prism/core/scene/types';
import { hasOptics, OpticsLayer } from './optics.ts';

const node = (id: number, more: Partial<SceneNode>): SceneNode => ({
  ...{ id, key: `/${id}`, parent: null, name: `${id}`, kind: 'camera', source: 's', transform: IDENTITY },
  ...{ materials: [], layer: null, ...more },
});
const eye = node(0, { camera: { type: 'perspective', fov: Math.PI / 2, near: 0.1 } });
const flat = node(1, { camera: { type: 'orthographic', height: 2, near: 0.1, far: 5 } });
const lamp = node(2, { kind: 'light', light: { type: 'spot', color: [1, 1, 1], intensity: 1, outer: Math.PI / 4 } });
const sky = node(3, { kind: 'light', light: { type: 'ambient', color: [1, 1, 1], intensity: 1 } });
const part = node(4, { kind: 'part' });
// Diagonal of a hundred metres: drawn 3.5 m large.
const box: Box = { min: [0, 0, 0], max: [100, 0, 0] };

function drawn(nodes: SceneNode[], worlds: [number, readonly number[]][], selected: number[] = []) {
  const iris = new LineBasicMaterial();
  const layer = new OpticsLayer(iris);
  layer.draw(nodes, new Map(worlds), new Set(selected), () => box);
  return { layer, iris, lines: layer.group.children as LineSegments[] };
}
const ends = ({ geometry, matrix }: LineSegments) => {
  const position = geometry.getAttribute('position');
  return Array.from({ length: position.count }, (_, i) =>
    new Vector3().fromBufferAttribute(position, i).applyMatrix4(matrix),
  );
};

describe('cameras and lights in the view', () => {
  it('are what stands somewhere: no parts, and no light from everywhere', () => {
    expect([eye, flat, lamp, sky, part].map(hasOptics)).toEqual([true, true, true, false, false]);
    expect(drawn([eye, flat, lamp, sky, part], [[0, IDENTITY], [1, IDENTITY], [2, IDENTITY]]).lines).toHaveLength(3);
  }); // prettier-ignore

  it('show a lens by its angle, where the camera stands and looks', () => {
    const quarter = composed([10, 0, 0], [0, -Math.SQRT1_2, 0, Math.SQRT1_2], [1, 1, 1]);
    const points = ends(drawn([eye], [[0, quarter]]).lines[0]);
    // Turned by a quarter about y, -z looks along x.
    expect(Math.max(...points.map(({ x }) => x))).toBeCloseTo(13.5, 4);
    expect(Math.min(...points.map(({ x }) => x))).toBeCloseTo(10, 4);
    // A right angle: half as tall as deep. The mark above it tells what is up.
    expect(Math.min(...points.map(({ y }) => y))).toBeCloseTo(-3.5, 4);
    expect(Math.max(...points.map(({ y }) => y))).toBeCloseTo(3.5 * 1.7, 4);
  });

  it('are no larger in a group that is scaled', () => {
    const scaled = composed([0, 0, 0], [0, 0, 0, 1], [1000, 1000, 1000]);
    const depth = (world: readonly number[]) =>
      Math.min(...ends(drawn([lamp], [[2, world]]).lines[0]).map(({ z }) => z));
    expect(depth(scaled)).toBeCloseTo(depth(IDENTITY), 4);
  });

  it('take the colour of the selection', () => {
    const { lines, iris } = drawn([eye, lamp], [[0, IDENTITY], [2, IDENTITY]], [2]);
    expect(lines.map(({ material }) => material === iris)).toEqual([false, true]);
  }); // prettier-ignore

  it('are picked where the pointer is near enough, the nearest first', () => {
    const { layer } = drawn([eye, lamp], [[0, translation([1, 0, 0])], [2, translation([2, 0, 0])]]);
    const pointerAt = (x: number) => (place: Vector3) => Math.abs(place.x - x) * 10;
    expect(layer.pick(pointerAt(1.2), 12)).toBe(eye);
    expect(layer.pick(pointerAt(1.8), 12)).toBe(lamp);
    expect(layer.pick(pointerAt(5), 12)).toBeUndefined();
  }); // prettier-ignore
});
