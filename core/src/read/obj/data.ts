/** What an OBJ holds, as lists of numbers, and the meshes that are made of them. It holds nothing of the text. */
import { HashTable } from '../../mesh/hashTable.ts';
import type { MeshGroup } from '../../mesh/mesh.ts';
import { gather } from '../../mesh/normals.ts';
import type { BareMesh } from '../../mesh/normals.ts';
import { NumberList } from '../../mesh/numberList.ts';
import type { Geometry } from '../builder.ts';
import type { ObjEstimate } from './estimate.ts';

/** Faces of one object and group, as runs of triangles with one material. */
export interface ObjPart {
  object: string;
  group: string;
  runs: { material: string; smoothing: number; start: number; end: number }[];
  lines: NumberList<Uint32Array>;
  points: NumberList<Uint32Array>;
}

export class ObjData {
  readonly positions: NumberList<Float64Array>;
  readonly uvs: NumberList<Float32Array>;
  readonly normals: NumberList<Float32Array>;
  colours: NumberList<Float32Array> | undefined;
  /** Three corners per triangle; numbers of position, texture coordinate and normal, -1 where there is none. */
  readonly corners: NumberList<Int32Array>;
  readonly cornerUvs: NumberList<Int32Array>;
  readonly cornerNormals: NumberList<Int32Array>;

  constructor({ vertices, uvs, normals, corners }: ObjEstimate) {
    this.positions = new NumberList(Float64Array, Math.max(65536, vertices * 3));
    this.uvs = new NumberList(Float32Array, Math.max(1024, uvs * 2));
    this.normals = new NumberList(Float32Array, Math.max(1024, normals * 3));
    this.corners = new NumberList(Int32Array, Math.max(65536, corners));
    this.cornerUvs = new NumberList(Int32Array, uvs > 0 ? corners : 1024);
    this.cornerNormals = new NumberList(Int32Array, normals > 0 ? corners : 1024);
  }

  /** Geometry of a part, its materials as slots. */
  geometryOf(part: ObjPart, slots: string[]): Geometry {
    return {
      triangles: part.runs.reduce((sum, run) => sum + (run.end - run.start) / 3, 0),
      bounds: this.#boundsOf(part),
      slots: Math.max(1, slots.length),
      make: () => this.#meshOf(part, slots),
    };
  }

  #boundsOf(part: ObjPart) {
    const min: [number, number, number] = [Infinity, Infinity, Infinity];
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    const add = (vertex: number) => {
      for (let axis = 0; axis < 3; axis++) {
        const value = this.positions.at(vertex * 3 + axis);
        if (value < min[axis]) min[axis] = value;
        if (value > max[axis]) max[axis] = value;
      }
    };
    for (const { start, end } of part.runs) for (let i = start; i < end; i++) add(this.corners.at(i));
    part.lines.values.forEach(add);
    return { min, max };
  }

  /** Some vertices, or all of a file that has nothing else, as points. */
  cloud(vertices?: Uint32Array): BareMesh {
    const { values } = this.positions;
    const colours = this.colours?.values;
    const groups: MeshGroup[] = [];
    const indices = new Uint32Array();
    if (!vertices)
      return { positions: values.slice(), indices, groups, ...(colours ? { colours: colours.slice() } : {}) };
    const positions = new Float64Array(vertices.length * 3);
    vertices.forEach((vertex, i) => positions.set(values.subarray(vertex * 3, vertex * 3 + 3), i * 3));
    return { positions, indices, groups, ...(colours ? { colours: gather(colours, 4, vertices) } : {}) };
  }

  /** Triangles of a part, sorted by material; corners that are alike in all become one vertex. */
  #meshOf(part: ObjPart, slots: string[]): BareMesh {
    const corners = part.runs.reduce((sum, run) => sum + run.end - run.start, 0);
    const indices = new Uint32Array(corners);
    const table = new HashTable(corners);
    const from = new NumberList(Int32Array, corners > 3000 ? Math.ceil(corners / 5) : corners);
    const { values: positions } = this.positions;
    const uvOf = (i: number) => (i < this.cornerUvs.length ? this.cornerUvs.at(i) : -1);
    const normalOf = (i: number) => (i < this.cornerNormals.length ? this.cornerNormals.at(i) : -1);
    const groups: MeshGroup[] = [];
    const smoothing = part.runs.some((run) => run.smoothing >= 0) ? new Uint32Array(corners / 3) : undefined;
    let at = 0;
    let hasNormals = corners > 0;
    let hasUvs = false;
    for (const [slot, material] of slots.entries()) {
      const start = at;
      for (const run of part.runs) {
        if (run.material !== material) continue;
        smoothing?.fill(Math.max(0, run.smoothing), at / 3, (at + run.end - run.start) / 3);
        for (let i = run.start; i < run.end; i++) {
          const vertex = this.corners.at(i);
          const uv = uvOf(i);
          const normal = normalOf(i);
          if (normal < 0) hasNormals = false;
          if (uv >= 0) hasUvs = true;
          const place = table.placeOf(vertex, uv, normal);
          let found = table.heads[place];
          for (; found >= 0; found = table.next[found]) {
            const other = from.at(found);
            if (this.corners.at(other) === vertex && uvOf(other) === uv && normalOf(other) === normal) break;
          }
          if (found < 0) {
            found = from.length;
            from.push(i);
            table.add(found, place);
          }
          indices[at++] = found;
        }
      }
      if (at > start) groups.push({ slot, start, count: at - start });
    }
    const count = from.length;
    const out = new Float64Array(count * 3);
    const uvs = hasUvs ? new Float32Array(count * 2) : undefined;
    const normals = hasNormals ? new Float32Array(count * 3) : undefined;
    const colours = this.colours ? new Float32Array(count * 4) : undefined;
    for (let v = 0; v < count; v++) {
      const corner = from.at(v);
      const vertex = this.corners.at(corner);
      const uv = uvOf(corner);
      for (let axis = 0; axis < 3; axis++) out[v * 3 + axis] = positions[vertex * 3 + axis];
      if (uvs && uv >= 0) {
        uvs[v * 2] = this.uvs.at(uv * 2);
        uvs[v * 2 + 1] = this.uvs.at(uv * 2 + 1);
      }
      if (normals)
        for (let axis = 0; axis < 3; axis++) normals[v * 3 + axis] = this.normals.at(normalOf(corner) * 3 + axis);
      if (colours && this.colours) for (let i = 0; i < 4; i++) colours[v * 4 + i] = this.colours.at(vertex * 4 + i);
    }
    const lines = part.lines.values;
    const edges = lines.length > 0 ? new Float64Array(lines.length * 3) : undefined;
    if (edges) lines.forEach((vertex, i) => edges.set(positions.subarray(vertex * 3, vertex * 3 + 3), i * 3));
    return {
      positions: out,
      indices,
      groups,
      ...(normals ? { normals } : {}),
      ...(uvs ? { uvs: [uvs] } : {}),
      ...(colours ? { colours } : {}),
      ...(smoothing && !normals ? { smoothing } : {}),
      ...(edges ? { lines: edges } : {}),
    };
  }
}
