/** Meshes for tests, without the kernel. */
import type { Mesh } from '../mesh/mesh.ts';

/** A sphere of latitudes and longitudes; seams and poles have doubled vertices, as meshes of faces have. Metres. */
export function ballMesh(radius: number, rings: number, sectors = rings * 2): Mesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const indices: number[] = [];
  for (let r = 0; r <= rings; r++) {
    for (let s = 0; s <= sectors; s++) {
      const polar = (Math.PI * r) / rings;
      const azimuth = (2 * Math.PI * (s % sectors)) / sectors;
      const n = [Math.sin(polar) * Math.cos(azimuth), Math.cos(polar), -Math.sin(polar) * Math.sin(azimuth)].map(exact);
      normals.push(...n);
      positions.push(...n.map((x) => x * radius));
    }
  }
  const at = (r: number, s: number) => r * (sectors + 1) + s;
  for (let r = 0; r < rings; r++) {
    for (let s = 0; s < sectors; s++) {
      if (r > 0) indices.push(at(r, s), at(r + 1, s), at(r, s + 1));
      if (r < rings - 1) indices.push(at(r, s + 1), at(r + 1, s), at(r + 1, s + 1));
    }
  }
  return meshFrom(positions, normals, indices);
}

/** Sines of whole turns are a hair off zero; poles and seams must close to the bit. */
const exact = (x: number) => Math.round(x * 1e9) / 1e9;

/** The same mesh, moved. */
export function moved(mesh: Mesh, ...by: [number, number, number]): Mesh {
  return { ...mesh, positions: mesh.positions.map((value, i) => value + by[i % 3]) };
}

/** A flat square in x and z with `cells` by `cells` squares; metres. */
export function squareMesh(side: number, cells: number, height = 0): Mesh {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i <= cells; i++)
    for (let j = 0; j <= cells; j++) positions.push((side * i) / cells, height, (side * j) / cells);
  const at = (i: number, j: number) => i * (cells + 1) + j;
  for (let i = 0; i < cells; i++) {
    for (let j = 0; j < cells; j++)
      indices.push(at(i, j), at(i, j + 1), at(i + 1, j), at(i + 1, j), at(i, j + 1), at(i + 1, j + 1));
  }
  return meshFrom(
    positions,
    positions.map((_, k) => (k % 3 === 1 ? 1 : 0)),
    indices,
  );
}

/** A box with four vertices a face; the faces alternate between slots where more than one is asked for. Metres. */
export function boxMesh(x: number, y: number, z: number, slots = 1): Mesh {
  const faces = [
    [[0, 0, 1], [1, 0, 0]], [[0, 0, -1], [-1, 0, 0]], [[1, 0, 0], [0, 0, -1]],
    [[-1, 0, 0], [0, 0, 1]], [[0, 1, 0], [1, 0, 0]], [[0, -1, 0], [1, 0, 0]],
  ]; // prettier-ignore
  const positions: number[] = [];
  const normals: number[] = [];
  const bySlot: number[][] = Array.from({ length: slots }, () => []);
  faces.forEach(([n, u], face) => {
    const v = [n[1] * u[2] - n[2] * u[1], n[2] * u[0] - n[0] * u[2], n[0] * u[1] - n[1] * u[0]];
    const first = positions.length / 3;
    for (const [a, b] of [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ]) {
      normals.push(...n);
      [x, y, z].forEach((side, axis) => positions.push((side / 2) * (n[axis] + a * u[axis] + b * v[axis])));
    }
    bySlot[face % slots].push(first, first + 1, first + 2, first, first + 2, first + 3);
  });
  const mesh = meshFrom(positions, normals, bySlot.flat());
  let start = 0;
  mesh.groups = bySlot.map((list, slot) => ({ slot, start: (start += list.length) - list.length, count: list.length }));
  return mesh;
}

/** A cube of `cells` by `cells` squares a side, each triangle with vertices and normals of its own, as STL has them. Metres. */
export function looseCube(side: number, cells: number): Mesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const grid = (i: number) => (side * i) / cells - side / 2;
  for (let axis = 0; axis < 3; axis++)
    for (const sign of [1, -1])
      for (let i = 0; i < cells; i++)
        for (let j = 0; j < cells; j++) {
          const corner = (a: number, b: number) => {
            const point = [0, 0, 0];
            point[axis] = (sign * side) / 2;
            point[(axis + 1) % 3] = grid(a);
            point[(axis + 2) % 3] = grid(b);
            return point;
          };
          const [p, q, r, s] = [corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1)];
          for (const triangle of sign > 0 ? [p, q, r, p, r, s] : [p, r, q, p, s, r]) {
            positions.push(...triangle);
            normals.push(...[0, 1, 2].map((k) => (k === axis ? sign : 0)));
          }
        }
  return meshFrom(
    positions,
    normals,
    Array.from({ length: positions.length / 3 }, (_, i) => i),
  );
}

function meshFrom(positions: number[], normals: number[], indices: number[]): Mesh {
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    indices: Uint32Array.from(indices),
    groups: [{ slot: 0, start: 0, count: indices.length }],
    edges: new Float32Array(),
  };
}
