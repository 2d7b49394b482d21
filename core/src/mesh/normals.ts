/** Shading normals for meshes that come without: smooth within the crease angle, sharp beyond it. */
import { NumberList } from './numberList.ts';
import type { Mesh } from './mesh.ts';
import { samePosition } from './weld.ts';

/** Faces that meet at more than this angle stay sharp; radians (common practice: 30 to 40 degrees). */
export const SMOOTH_ANGLE = (35 * Math.PI) / 180;

/** Normals closer than this, squared, are one. */
const SAME_NORMAL = 1e-6;

/** What a reader has of a mesh before it is finished. Any unit; doubles where the file has them. */
export interface BareMesh extends Pick<Mesh, 'indices' | 'groups' | 'uvs' | 'colours'> {
  positions: Float32Array | Float64Array;
  /** Unit normals, where the source has them. */
  normals?: Float32Array;
  /** Smoothing group per triangle, where the source has them: 0 means flat, equal numbers are smoothed with each other. */
  smoothing?: Uint32Array;
  /** Line segments of the source, two points each, unit of the positions. */
  lines?: Float32Array | Float64Array;
}

/**
 * Normals weighted by area, from the faces around each corner that are within the angle (or of the same smoothing group). Corners
 * of one vertex that get different normals become vertices of their own.
 * @returns the mesh with normals and without edges
 */
export function withNormals(mesh: BareMesh & { positions: Float32Array }, angle = SMOOTH_ANGLE): Mesh {
  const { positions, indices, smoothing } = mesh;
  const point = samePosition(positions);
  const triangles = indices.length / 3;
  const faces = new Float32Array(indices.length);
  const lengths = new Float32Array(triangles);
  for (let t = 0; t < triangles; t++) faceVector(positions, indices, t, faces, lengths);

  // (1) Triangles around each point, as a list in two arrays.
  const count = positions.length / 3;
  const starts = new Uint32Array(count + 1);
  for (let corner = 0; corner < indices.length; corner++) starts[point[indices[corner]] + 1]++;
  for (let v = 0; v < count; v++) starts[v + 1] += starts[v];
  const around = new Uint32Array(indices.length);
  const filled = starts.slice(0, count);
  for (let corner = 0; corner < indices.length; corner++)
    around[filled[point[indices[corner]]]++] = Math.floor(corner / 3);

  // (2) A normal per corner, and a vertex for each different normal at a vertex.
  const limit = Math.cos(angle);
  const newIndices = new Uint32Array(indices.length);
  const from = new NumberList(Uint32Array, count + 16);
  const normals = new NumberList(Float32Array, count * 3 + 48);
  const first = new Int32Array(count).fill(-1);
  const next = new NumberList(Int32Array, count + 16);
  for (let corner = 0; corner < indices.length; corner++) {
    const own = Math.floor(corner / 3);
    const vertex = indices[corner];
    const at = point[vertex];
    let x = 0;
    let y = 0;
    let z = 0;
    for (let k = starts[at]; k < starts[at + 1]; k++) {
      const other = around[k];
      if (other !== own && !together(own, other)) continue;
      x += faces[other * 3];
      y += faces[other * 3 + 1];
      z += faces[other * 3 + 2];
    }
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 0) {
      x /= length;
      y /= length;
      z /= length;
    } else y = 1;
    let made = first[vertex];
    for (; made >= 0; made = next.at(made)) {
      const [dx, dy, dz] = [normals.at(made * 3) - x, normals.at(made * 3 + 1) - y, normals.at(made * 3 + 2) - z];
      if (dx * dx + dy * dy + dz * dz < SAME_NORMAL) break;
    }
    if (made < 0) {
      made = from.length;
      from.push(vertex);
      normals.push3(x, y, z);
      next.push(first[vertex]);
      first[vertex] = made;
    }
    newIndices[corner] = made;
  }
  const list = from.values;
  return {
    positions: gather(positions, 3, list),
    normals: normals.values.slice(),
    indices: newIndices,
    groups: mesh.groups,
    edges: new Float32Array(),
    ...(mesh.uvs ? { uvs: mesh.uvs.map((set) => gather(set, 2, list)) } : {}),
    ...(mesh.colours ? { colours: gather(mesh.colours, 4, list) } : {}),
  };

  function together(a: number, b: number): boolean {
    if (smoothing) return smoothing[a] !== 0 && smoothing[a] === smoothing[b];
    const dot = faces[a * 3] * faces[b * 3] + faces[a * 3 + 1] * faces[b * 3 + 1] + faces[a * 3 + 2] * faces[b * 3 + 2];
    return dot >= limit * lengths[a] * lengths[b];
  }
}

/** Values of some vertices, in the order of the list. */
export function gather(values: Float32Array, size: number, list: ArrayLike<number>): Float32Array {
  const out = new Float32Array(list.length * size);
  for (let i = 0; i < list.length; i++) for (let k = 0; k < size; k++) out[i * size + k] = values[list[i] * size + k];
  return out;
}

/** Normal of a triangle, as long as twice its area, and that length. */
function faceVector(p: Float32Array, indices: Uint32Array, t: number, out: Float32Array, lengths: Float32Array): void {
  const a = indices[t * 3] * 3;
  const b = indices[t * 3 + 1] * 3;
  const c = indices[t * 3 + 2] * 3;
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  out[t * 3] = x;
  out[t * 3 + 1] = y;
  out[t * 3 + 2] = z;
  lengths[t] = Math.sqrt(x * x + y * y + z * z);
}
