/** A triangle mesh in memory, its figures, and the blob it is kept in. */
import { PrismError } from '../errors.ts';
import type { Box, MeshFigures } from '../scene/types.ts';

/** Triangles of one slot: `indices[start .. start + count]`. */
export interface MeshGroup {
  slot: number;
  start: number;
  count: number;
}

/**
 * Geometry in metres, in the part's own frame. Groups are sorted by slot and cover all indices. A cloud of points has
 * positions and no indices.
 */
export interface Mesh {
  /** x, y, z per vertex. */
  positions: Float32Array;
  /** Unit normals, x, y, z per vertex. */
  normals: Float32Array;
  /** Three per triangle, counter-clockwise seen from outside. */
  indices: Uint32Array;
  groups: MeshGroup[];
  /** Feature edges: two points (six numbers) per line segment. */
  edges: Float32Array;
  /** Sets of texture coordinates, u and v per vertex, origin upper left as in glTF. */
  uvs?: Float32Array[];
  /** The texture coordinates are lengths on the surface in metres: a picture that repeats every metre has its true size. */
  trueSize?: boolean;
  /** Linear red, green, blue and opacity per vertex, 0 to 1. */
  colours?: Float32Array;
}

/** First bytes of a mesh blob, `NPM1`. */
const MAGIC = 0x314d504e;

/** Packs a mesh: magic, length of the head, head in JSON padded to 4 bytes, then the arrays: positions, normals, indices, edges, UV sets, colours. */
export function packMesh(mesh: Mesh): Uint8Array {
  const head = new TextEncoder().encode(
    JSON.stringify({
      vertices: mesh.positions.length / 3,
      indices: mesh.indices.length,
      edges: mesh.edges.length / 6,
      groups: mesh.groups,
      ...(mesh.uvs?.length ? { uvs: mesh.uvs.length } : {}),
      ...(mesh.trueSize ? { trueSize: true } : {}),
      ...(mesh.colours ? { colours: true } : {}),
    }),
  );
  const padded = Math.ceil(head.length / 4) * 4;
  const arrays = [
    mesh.positions,
    mesh.normals,
    mesh.indices,
    mesh.edges,
    ...(mesh.uvs ?? []),
    ...(mesh.colours ? [mesh.colours] : []),
  ];
  const out = new Uint8Array(8 + padded + arrays.reduce((sum, array) => sum + array.byteLength, 0));
  new DataView(out.buffer).setUint32(0, MAGIC, true);
  new DataView(out.buffer).setUint32(4, padded, true);
  out.fill(32, 8, 8 + padded);
  out.set(head, 8);
  let at = 8 + padded;
  for (const array of arrays) {
    out.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
    at += array.byteLength;
  }
  return out;
}

/** Unpacks a mesh blob without copying where the bytes are aligned. @throws PrismError `not-readable` */
export function unpackMesh(bytes: Uint8Array): Mesh {
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice();
  const view = new DataView(aligned.buffer, aligned.byteOffset, aligned.byteLength);
  if (aligned.length < 8 || view.getUint32(0, true) !== MAGIC)
    throw new PrismError('not-readable', 'A mesh blob is damaged.');
  const headLength = view.getUint32(4, true);
  if (8 + headLength > aligned.length) throw new PrismError('not-readable', 'A mesh blob is cut off.');
  const head = JSON.parse(new TextDecoder().decode(aligned.subarray(8, 8 + headLength))) as {
    vertices: number;
    indices: number;
    edges: number;
    groups: MeshGroup[];
    uvs?: number;
    trueSize?: boolean;
    colours?: boolean;
  };
  const { uvs: sets = 0 } = head;
  let at = aligned.byteOffset + 8 + headLength;
  const perVertex = 24 + sets * 8 + (head.colours ? 16 : 0);
  const needed = 8 + headLength + head.vertices * perVertex + head.indices * 4 + head.edges * 24;
  if (needed !== aligned.length) throw new PrismError('not-readable', 'A mesh blob is cut off.');
  const floats = (count: number) => {
    const array = new Float32Array(aligned.buffer, at, count);
    at += count * 4;
    return array;
  };
  const positions = floats(head.vertices * 3);
  const normals = floats(head.vertices * 3);
  const indices = new Uint32Array(aligned.buffer, at, head.indices);
  at += head.indices * 4;
  const edges = floats(head.edges * 6);
  const uvs = Array.from({ length: sets }, () => floats(head.vertices * 2));
  const colours = head.colours ? floats(head.vertices * 4) : undefined;
  return {
    positions,
    normals,
    indices,
    edges,
    groups: head.groups,
    ...(sets > 0 ? { uvs } : {}),
    ...(head.trueSize ? { trueSize: true } : {}),
    ...(colours ? { colours } : {}),
  };
}

/** Box of points given as x, y, z triples; a zero box at the origin for none. */
export function boundsOf(positions: ArrayLike<number>): Box {
  let [x0, y0, z0] = [Infinity, Infinity, Infinity];
  let [x1, y1, z1] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i];
    const y = positions[i + 1];
    const z = positions[i + 2];
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  const min: [number, number, number] = [x0, y0, z0];
  const max: [number, number, number] = [x1, y1, z1];
  return positions.length === 0 ? { min: [0, 0, 0], max: [0, 0, 0] } : { min, max };
}

/** Share of the area by which the sums of a closed surface may be off: about a hole of a thousandth of it. */
const OPEN_SHARE = 5e-4;

/**
 * Area, volume and centre of volume of a triangle mesh. The volume is the sum of signed tetrahedra over an inner reference
 * point (divergence theorem), which keeps precision for parts far from their origin. By the same theorem a closed surface has
 * ∮ n dA = 0 and ∮ xᵢ nⱼ dA = V δᵢⱼ: where that is not so, it is open.
 */
export function massProperties(mesh: Pick<Mesh, 'positions' | 'indices'>): {
  area: number;
  volume: number;
  centroid: [number, number, number];
  isOpen: boolean;
} {
  const { positions: p, indices } = mesh;
  const { min, max } = boundsOf(p);
  const [ox, oy, oz] = min.map((low, axis) => (low + max[axis]) / 2);
  let area = 0;
  let volume = 0;
  const moment = [0, 0, 0];
  const sums = new Float64Array(12);
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i] * 3, indices[i + 1] * 3, indices[i + 2] * 3];
    const [ax, ay, az] = [p[a] - ox, p[a + 1] - oy, p[a + 2] - oz];
    const [bx, by, bz] = [p[b] - ox, p[b + 1] - oy, p[b + 2] - oz];
    const [cx, cy, cz] = [p[c] - ox, p[c + 1] - oy, p[c + 2] - oz];
    const nx = (by - ay) * (cz - az) - (bz - az) * (cy - ay);
    const ny = (bz - az) * (cx - ax) - (bx - ax) * (cz - az);
    const nz = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    area += Math.hypot(nx, ny, nz) / 2;
    const [mx, my, mz] = [(ax + bx + cx) / 3, (ay + by + cy) / 3, (az + bz + cz) / 3];
    sums[0] += nx;
    sums[1] += ny;
    sums[2] += nz;
    sums[3] += mx * nx;
    sums[4] += mx * ny;
    sums[5] += mx * nz;
    sums[6] += my * nx;
    sums[7] += my * ny;
    sums[8] += my * nz;
    sums[9] += mz * nx;
    sums[10] += mz * ny;
    sums[11] += mz * nz;
    const v = (ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)) / 6;
    volume += v;
    moment[0] += (v * (ax + bx + cx)) / 4;
    moment[1] += (v * (ay + by + cy)) / 4;
    moment[2] += (v * (az + bz + cz)) / 4;
  }
  const centroid = (volume === 0 ? [0, 0, 0] : moment.map((m) => m / volume)) as [number, number, number];
  // The sums are of twice the areas.
  const reach = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const off = [3, 7, 11].map((at) => sums[at] - 2 * volume);
  const others = [4, 5, 6, 8, 9, 10].map((at) => sums[at]);
  const isOff = (value: number, size: number) => Math.abs(value) > 2 * OPEN_SHARE * area * size;
  const isOpen = [...sums.subarray(0, 3)].some((sum) => isOff(sum, 1)) || [...off, ...others].some((sum) => isOff(sum, reach)); // prettier-ignore
  return { area, volume, centroid: [centroid[0] + ox, centroid[1] + oy, centroid[2] + oz], isOpen };
}

/** Figures of a mesh whose blob has the given size. */
export function figuresOf(mesh: Mesh, bytes: number): MeshFigures {
  const { area, volume, centroid, isOpen } = massProperties(mesh);
  const slots: number[] = [];
  for (const group of mesh.groups) {
    while (slots.length <= group.slot) slots.push(0);
    slots[group.slot] += group.count / 3;
  }
  return {
    triangles: mesh.indices.length / 3,
    vertices: mesh.positions.length / 3,
    bounds: boundsOf(mesh.positions.length > 0 ? mesh.positions : mesh.edges),
    area,
    volume,
    ...(volume === 0 ? {} : { centroid }),
    slots,
    edges: mesh.edges.length / 6,
    bytes,
    ...(isOpen ? { open: true } : {}),
    ...(mesh.uvs?.length ? { uvs: mesh.uvs.length } : {}),
    ...(mesh.trueSize ? { trueSize: true } : {}),
    ...(mesh.colours ? { colours: true } : {}),
    ...(mesh.indices.length === 0 ? { points: mesh.positions.length / 3 } : {}),
  };
}
