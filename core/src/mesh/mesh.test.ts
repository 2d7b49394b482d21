import { describe, expect, it } from 'vitest';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { boundsOf, figuresOf, massProperties, packMesh, unpackMesh } from './mesh.ts';
import { featureEdges } from './edges.ts';
import { samePosition, snapPositions } from './weld.ts';

describe('a mesh blob', () => {
  it('gives back what was packed, wherever the bytes lie', () => {
    const mesh = { ...boxMesh(1, 2, 3, 2), edges: Float32Array.of(0, 0, 0, 1, 1, 1) };
    const blob = packMesh(mesh);
    expect(unpackMesh(blob)).toEqual(mesh);
    const shifted = new Uint8Array(blob.length + 1);
    shifted.set(blob, 1);
    expect(unpackMesh(shifted.subarray(1))).toEqual(mesh);
  });

  it.each([0, 4, 7, 60])('is refused when it is cut off at %i bytes', (length) => {
    expect(() => unpackMesh(packMesh(boxMesh(1, 1, 1)).slice(0, length))).toThrow(/blob/);
  });
});

describe('figures', () => {
  // Volume and area of a box; of a sphere 4/3 π r³ and 4 π r².
  it('of a box are exact', () => {
    const { area, volume, centroid } = massProperties(boxMesh(2, 3, 4));
    expect(volume).toBeCloseTo(24, 5);
    expect(area).toBeCloseTo(52, 5);
    expect(Math.hypot(...centroid)).toBeCloseTo(0, 6);
  });

  it('of a sphere converge with the square of the edge length', () => {
    const error = (rings: number) => 1 - massProperties(ballMesh(1, rings)).volume / ((4 / 3) * Math.PI);
    expect(error(32)).toBeGreaterThan(0);
    expect(error(16) / error(32)).toBeCloseTo(4, 1);
  });

  it('keep their precision far from the origin', () => {
    const mesh = boxMesh(1, 1, 1);
    mesh.positions = mesh.positions.map((value, i) => value + (i % 3 === 0 ? 4096 : 0));
    const { volume, centroid } = massProperties(mesh);
    expect(volume).toBeCloseTo(1, 6);
    expect(centroid[0]).toBeCloseTo(4096, 3);
  });

  it('count triangles by slot', () => {
    expect(figuresOf(boxMesh(1, 1, 1, 2), 99)).toMatchObject({ triangles: 12, vertices: 24, slots: [6, 6], bytes: 99 });
  });

  it('of nothing are zero, not infinite', () => expect(boundsOf([])).toEqual({ min: [0, 0, 0], max: [0, 0, 0] }));
});

describe('snapping vertices together', () => {
  it('closes seams that plain rounding would leave open', () => {
    // Neighbours on two sides of a border between cells, at every border that can be.
    const positions: number[] = [];
    for (let i = 0; i < 200; i++) positions.push(i * 0.01, 0, 0, i * 0.01 + 0.9e-6, 0.3e-6, 0);
    const { positions: snapped } = snapPositions(Float32Array.from(positions), 2e-6);
    const same = samePosition(snapped);
    for (let v = 1; v < same.length; v += 2) expect(same[v]).toBe(same[v - 1]);
  });

  it('leaves what is farther apart', () => {
    const positions = Float32Array.of(0, 0, 0, 3e-6, 0, 0);
    expect(snapPositions(positions, 2e-6).positions).toEqual(positions);
  });
});

describe('feature edges', () => {
  it('are the twelve of a box', () => expect(featureEdges(boxMesh(1, 2, 3)).length / 6).toBe(12));

  it('are none on a fine ball', () => expect(featureEdges(ballMesh(1, 32)).length).toBe(0));

  it('are the border of an open sheet', () => {
    const box = boxMesh(1, 1, 1);
    expect(
      featureEdges({ ...box, indices: box.indices.slice(0, 6), groups: [{ slot: 0, start: 0, count: 6 }] }).length / 6,
    ).toBe(4);
  });

  it('part slots even where the surface is flat', () => {
    const mesh = {
      positions: Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0),
      indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
      groups: [
        { slot: 0, start: 0, count: 3 },
        { slot: 1, start: 3, count: 3 },
      ],
    };
    expect(featureEdges(mesh).length / 6).toBe(5);
  });
});
