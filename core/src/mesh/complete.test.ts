// What becomes of the meshes that readers find: polygons, normals, unused and unsound vertices. Areas and angles by their formulas.
import { describe, expect, it } from 'vitest';
import { completeMesh } from './complete.ts';
import { figuresOf, massProperties, packMesh } from './mesh.ts';
import { withNormals } from './normals.ts';
import type { BareMesh } from './normals.ts';
import { triangulate } from './polygons.ts';
import { scale } from './scale.ts';

const ORIGIN = [0, 0, 0];

/** A strip folded by an angle along the y axis: two triangles on each side. */
function fold(degrees: number): BareMesh & { positions: Float32Array } {
  const rise = Math.sin((degrees * Math.PI) / 180);
  const run = Math.cos((degrees * Math.PI) / 180);
  const positions = Float32Array.from([-1, 0, 0, -1, 1, 0, 0, 0, 0, 0, 1, 0, run, 0, -rise, run, 1, -rise]);
  const indices = Uint32Array.from([0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3]);
  return { positions, indices, groups: [{ slot: 0, start: 0, count: 12 }] };
}

describe('polygons', () => {
  const areaOf = (points: [number, number, number][]) => {
    const indices = Uint32Array.from(triangulate((i) => points[i], points.length));
    return massProperties({ positions: Float32Array.from(points.flat()), indices }).area;
  };

  it.each([
    [
      'a square',
      [
        [0, 0, 0],
        [2, 0, 0],
        [2, 2, 0],
        [0, 2, 0],
      ],
      4,
    ],
    [
      'an arrow head',
      [
        [0, 0, 0],
        [4, 0, 0],
        [1, 1, 0],
        [0, 4, 0],
      ],
      4,
    ],
    [
      'a comb',
      [
        [0, 0, 0],
        [5, 0, 0],
        [5, 3, 0],
        [4, 3, 0],
        [4, 1, 0],
        [3, 1, 0],
        [3, 3, 0],
        [2, 3, 0],
        [2, 1, 0],
        [1, 1, 0],
        [1, 3, 0],
        [0, 3, 0],
      ],
      11,
    ],
    [
      'one that stands upright',
      [
        [0, 0, 0],
        [0, 3, 0],
        [0, 3, 1],
        [0, 1, 1],
        [0, 1, 3],
        [0, 0, 3],
      ],
      5,
    ],
  ] as [string, [number, number, number][], number][])(
    'cover the area of %s, by the shoelace formula',
    (_, points, area) => {
      expect(areaOf(points)).toBeCloseTo(area, 5);
      // The winding does not matter for the area, nor where it begins.
      expect(areaOf([...points].reverse())).toBeCloseTo(area, 5);
      expect(areaOf([...points.slice(2), ...points.slice(0, 2)])).toBeCloseTo(area, 5);
    },
  );

  it('keep the winding', () => {
    const points: [number, number, number][] = [
      [0, 0, 0],
      [4, 0, 0],
      [1, 1, 0],
      [0, 4, 0],
    ];
    const [a, b, c] = triangulate((i) => points[i], 4).map((i) => points[i]);
    expect((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).toBeGreaterThan(0);
  });
});

describe('normals', () => {
  it('are smooth over a slight fold and sharp over a strong one', () => {
    expect(withNormals(fold(20)).positions.length / 3).toBe(6);
    expect(withNormals(fold(60)).positions.length / 3).toBe(8);
  });

  it('are the mean of the faces around, by their areas', () => {
    const { normals, positions } = withNormals(fold(20));
    const vertex = [...Array(6).keys()].find((v) => positions[v * 3] === 0 && positions[v * 3 + 1] === 0) ?? 0;
    // One triangle lies flat here and two are turned by 20°, all of the same area.
    const turned = (20 * Math.PI) / 180;
    const expected = Math.atan2(2 * Math.sin(turned), 1 + 2 * Math.cos(turned));
    expect(Math.acos(normals[vertex * 3 + 2])).toBeCloseTo(expected, 3);
  });
});

describe('a mesh made ready', () => {
  const triangle = (positions: number[], indices = [0, 1, 2]): BareMesh => ({
    positions: Float64Array.from(positions),
    indices: Uint32Array.from(indices),
    groups: [{ slot: 0, start: 0, count: indices.length }],
  });

  it('is in metres, around its own origin, in single precision without loss', () => {
    const far = triangle([1e7, 0, 0, 1e7 + 1, 0, 0, 1e7, 1.25, 0]);
    const mesh = completeMesh(far, 0.001, [1e7, 0, 0]);
    expect([...(mesh?.positions ?? [])]).toEqual(
      [0, 0, 0, 0.001, 0, 0, 0, 0.00125, 0].map((value) => expect.closeTo(value, 9) as number),
    );
  });

  it('leaves out vertices that nothing uses, with or without normals', () => {
    const stray = triangle([0, 0, 0, 1, 0, 0, 0, 1, 0, 99, 99, 99]);
    for (const bare of [stray, { ...stray, normals: new Float32Array(12).fill(1) }]) {
      const mesh = completeMesh(bare, 1, ORIGIN);
      expect(mesh && figuresOf(mesh, 0).bounds.max).toEqual([1, 1, 0]);
    }
  });

  it('leaves out triangles that lie nowhere, and is none where nothing is left', () => {
    const mesh = completeMesh(triangle([0, 0, 0, 1, 0, 0, 0, 1, 0, NaN, 0, 0], [0, 1, 2, 0, 1, 3, 0, 1, 7]), 1, ORIGIN);
    expect(mesh?.indices).toHaveLength(3);
    expect(completeMesh(triangle([0, 0, NaN, 1, 0, 0, 0, 1, 0]), 1, ORIGIN)).toBeUndefined();
    expect(completeMesh(triangle([], []), 1, ORIGIN)).toBeUndefined();
  });

  it('keeps lines of the source beside the borders', () => {
    const mesh = completeMesh(
      { ...triangle([0, 0, 0, 1, 0, 0, 0, 1, 0]), lines: Float32Array.from([0, 0, 0, 5, 5, 5]) },
      1,
      ORIGIN,
    );
    expect((mesh?.edges.length ?? 0) / 6).toBe(4);
  });
});

describe('a scaled mesh', () => {
  it('has the square of the factor in its area', async () => {
    const mesh = completeMesh(fold(60), 1, ORIGIN);
    if (!mesh) throw new Error('no mesh');
    const before = figuresOf(mesh, 0);
    const { figures } = await scale({ mesh: packMesh(mesh), factor: 25.4 });
    expect(figures.area / before.area).toBeCloseTo(25.4 ** 2, 1);
    expect([figures.triangles, figures.edges]).toEqual([before.triangles, before.edges]);
  });
});
