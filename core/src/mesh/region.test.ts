// Facts of geometry: a cube has six flat faces, its whole surface turns by right angles.
import { describe, expect, it } from 'vitest';
import { areaOf, neighboursOf, normalOf, regionAround, smoothRegion } from './region.ts';

/** A cube of 2, each side of two triangles with vertices of its own, as exporters write them. */
function cube() {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let axis = 0; axis < 3; axis++)
    for (const sign of [-1, 1]) {
      const at = positions.length / 3;
      for (const [u, v] of [[-1, -1], [1, -1], [1, 1], [-1, 1]]) {
        const point = [0, 0, 0];
        point[axis] = sign;
        point[(axis + 1) % 3] = u;
        point[(axis + 2) % 3] = v;
        positions.push(...point);
      }
      indices.push(...(sign > 0 ? [0, 1, 2, 0, 2, 3] : [0, 2, 1, 0, 3, 2]).map((i) => i + at));
    }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
} // prettier-ignore

const degrees = (value: number) => (value * Math.PI) / 180;

describe('a cube whose sides share no vertices', () => {
  const mesh = cube();
  const neighbours = neighboursOf(mesh);

  it('has three neighbours at every triangle', () => {
    for (const [half, other] of neighbours.entries()) {
      expect(other).toBeGreaterThanOrEqual(0);
      const back = [...neighbours.slice(other * 3, other * 3 + 3)];
      expect(back).toContain(Math.floor(half / 3));
    }
  });

  it.each([
    [20, 2, 4],
    [89, 2, 4],
    [91, 12, 24],
  ])('turning by up to %d° a face has %d triangles', (angle, count, area) => {
    for (let seed = 0; seed < 12; seed++) {
      const region = smoothRegion(mesh, neighbours, seed, degrees(angle));
      expect(region).toHaveLength(count);
      expect(region).toContain(seed);
      expect(areaOf(mesh, region).area).toBeCloseTo(area, 9);
      if (count === 2) {
        // The middle of a side of a cube about the origin is its normal.
        const normal = normalOf(mesh, seed);
        areaOf(mesh, region).centre.forEach((value, axis) => expect(value).toBeCloseTo(normal[axis], 9));
      }
    }
  });
});

it('parts surfaces where three sheets meet, since nobody knows which two belong together', () => {
  // Three half planes that share an edge along z.
  const positions = Float32Array.from([0, 0, 0, 0, 0, 1, 1, 0, 0, -1, 1, 0, -1, -1, 0]);
  const indices = Uint32Array.from([0, 1, 2, 0, 1, 3, 0, 1, 4]);
  expect([...neighboursOf({ positions, indices })]).toEqual(Array(9).fill(-1));
});

it('goes through triangles without area, which look nowhere', () => {
  // Two flat triangles with a sliver of no width between them.
  const positions = Float32Array.from([0, 0, 0, 1, 0, 0, 0.5, 0, 0, 0, 1, 0, 1, -1, 0]);
  const indices = Uint32Array.from([0, 1, 3, 0, 2, 1, 0, 4, 2, 2, 4, 1]);
  const mesh = { positions, indices };
  expect(normalOf(mesh, 1)).toEqual([0, 0, 0]);
  expect([...smoothRegion(mesh, neighboursOf(mesh), 0, 0.01)]).toEqual([0, 1, 2, 3]);
});

it('takes only what belongs', () => {
  const mesh = cube();
  expect([...regionAround(neighboursOf(mesh), 5, () => false)]).toEqual([5]);
});
