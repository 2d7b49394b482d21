import { expect, it } from 'vitest';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { thumbnail } from './thumbnail.ts';

const SIZE = 128;
const red = () => [1, 0, 0] as const;
const pixel = (data: Uint8Array, x: number, y: number) => [
  ...data.subarray((y * SIZE + x) * 4, (y * SIZE + x) * 4 + 4),
];

it('shows a ball as a disc of its size: the handbook has its area', () => {
  const { data } = thumbnail(ballMesh(3, 64), { colourOf: red, size: SIZE });
  let covered = 0;
  for (let i = 3; i < data.length; i += 4) covered += data[i] / 255;
  // It reaches from margin to margin: 88 % of the side.
  const area = Math.PI * (0.44 * SIZE) ** 2;
  expect(covered / area).toBeGreaterThan(0.985);
  expect(covered / area).toBeLessThan(1.005);
});

it('is in the colours of the material, lit from above, and see-through around it', () => {
  const { data } = thumbnail(boxMesh(1, 1, 1), { colourOf: red, size: SIZE });
  expect(pixel(data, 1, 1)[3]).toBe(0);
  const [top, side] = [pixel(data, SIZE / 2, 26), pixel(data, SIZE / 2 - 10, 90)];
  expect(top.slice(1)).toEqual([0, 0, 255]);
  expect(side.slice(1)).toEqual([0, 0, 255]);
  expect(top[0]).toBeGreaterThan(side[0] + 10);
});

it('hides what lies behind', () => {
  const near = boxMesh(1, 1, 1);
  const both = { ...near, groups: near.groups.map((group) => ({ ...group, slot: 0 })) };
  const drawn = thumbnail(both, { colourOf: (slot) => (slot === 0 ? [0, 1, 0] : [1, 0, 0]), size: SIZE });
  expect(pixel(drawn.data, SIZE / 2, SIZE / 2)[0]).toBe(0);
});

it('draws what has no faces', () => {
  const empty = { indices: new Uint32Array(), groups: [], positions: new Float32Array(), normals: new Float32Array() };
  const edges = Float32Array.from([0, 0, 0, 1, 1, 1]);
  const { data } = thumbnail({ ...empty, edges }, { colourOf: red, size: SIZE });
  expect(data.some((value) => value > 0)).toBe(true);
  expect(thumbnail({ ...empty, edges: new Float32Array() }, { colourOf: red, size: 8 }).data).toHaveLength(256);
});
