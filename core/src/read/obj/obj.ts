/**
 * Reader of OBJ files with their MTL and pictures: objects, groups, smoothing groups, polygons of any size, negative numbers,
 * colours of vertices; faces, lines and points in any mixture.
 */
import { linearFromSrgb } from '../../finish/colour.ts';
import { HashTable } from '../../mesh/hashTable.ts';
import type { MeshGroup } from '../../mesh/mesh.ts';
import { gather } from '../../mesh/normals.ts';
import type { BareMesh } from '../../mesh/normals.ts';
import { triangulate } from '../../mesh/polygons.ts';
import { SceneBuilder } from '../builder.ts';
import { NumberList } from '../../mesh/numberList.ts';
import { baseName } from '../paths.ts';
import type { Reader, SourceFile } from '../reader.ts';
import type { Seen } from '../../surroundings.ts';
import { asUtf8, headOf, Scanner, SEEN_NAMES } from '../scanner.ts';
import { readMtl } from './mtl.ts';

export const objReader: Reader = {
  format: 'OBJ',
  endings: ['obj'],
  recognises: ({ bytes }) => {
    const head = headOf(bytes, 4000);
    return (
      /^\s*(v|mtllib|o|g)\s+\S/m.test(head) &&
      /^\s*v\s+[-+.\d]+\s+[-+.\d]+\s+[-+.\d]/m.test(head) &&
      !/[\u0000]/.test(head)
    );
  },
  read: async (file, sourceId) => {
    const builder = new SceneBuilder(file, sourceId, {
      format: 'OBJ',
      producer: headOf(file.bytes, 400).match(/^#\s*(.*\S)/m)?.[1] ?? '',
      // The format has neither unit nor up axis; modellers write metres, y up (common practice).
      unit: { name: 'm', metres: 1, declared: false },
      upAxis: { axis: 'y', by: 'convention' },
    });
    builder.notRead.add('OBJ holds no unit, instances, cameras, lights or animations.');
    new ObjText(file, builder).read();
    return builder.reading();
  },
};

/** Faces of one object and group, as runs of triangles with one material. */
interface Part {
  object: string;
  group: string;
  runs: { material: string; smoothing: number; start: number; end: number }[];
  lines: NumberList<Uint32Array>;
  points: NumberList<Uint32Array>;
}

/** Most materials that one part may have as slots. */
const MAX_SLOTS = 4096;

class ObjText {
  readonly #scanner: Scanner;
  readonly #positions = new NumberList(Float64Array, 65536);
  readonly #uvs = new NumberList(Float32Array);
  readonly #normals = new NumberList(Float32Array);
  #colours: NumberList<Float32Array> | undefined;
  /** Three corners per triangle; numbers of position, texture coordinate and normal, -1 where there is none. */
  readonly #corners = new NumberList(Int32Array, 65536);
  readonly #cornerUvs = new NumberList(Int32Array);
  readonly #cornerNormals = new NumberList(Int32Array);
  readonly #parts = new Map<string, Part>();
  readonly #materials = new Map<string, string>();
  #part: Part | undefined;
  #object = '';
  #group = '';
  #material = '';
  #smoothing = -1;
  #wrong = 0;
  #wrongLine = 0;
  #badNumbers = 0;
  readonly #face: number[] = [];
  readonly #faceUvs: number[] = [];
  readonly #faceNormals: number[] = [];

  constructor(
    readonly file: SourceFile,
    readonly builder: SceneBuilder,
  ) {
    this.#scanner = new Scanner(asUtf8(file.bytes), file.progress && ((share) => file.progress?.(share, this.#seen())));
  }

  read(): void {
    const scanner = this.#scanner;
    while (scanner.anywhere()) {
      const first = scanner.bytes[scanner.at];
      const second = scanner.bytes[scanner.at + 1];
      if (first === 118 && second <= 32) this.#vertex();
      else if (first === 102 && second <= 32) this.#readFace();
      else if (first === 118 && second === 116) this.#uv();
      else if (first === 118 && second === 110) this.#normal();
      else if (first !== 35) this.#keyword();
      scanner.nextLine();
    }
    if (this.#wrong > 0)
      this.builder.warn(
        'bad-indices',
        `${this.#wrong} faces, lines or points name vertices that are not there; they are left out.`,
        `line ${this.#wrongLine}`,
      );
    if (this.#badNumbers > 0)
      this.builder.warn(
        'bad-numbers',
        `${this.#badNumbers} vertices have coordinates that are no numbers; what uses them is left out.`,
      );
    this.#place();
  }

  #seen(): Seen {
    const names = [...this.#parts.values()].slice(-SEEN_NAMES).map(({ object, group }) => object || group);
    const triangles = this.#corners.length / 3;
    return { format: 'OBJ', what: 'objects', count: this.#parts.size, names: names.filter(Boolean), triangles };
  }

  #vertex(): void {
    const scanner = this.#scanner;
    scanner.at++;
    const [x, y, z] = [this.#value(), this.#value(), this.#value()];
    if (!Number.isFinite(x + y + z)) this.#badNumbers++;
    this.#positions.push3(x, y, z);
    if (!scanner.more()) {
      if (this.#colours) for (let i = 0; i < 4; i++) this.#colours.push(1);
      return;
    }
    // A fourth value is a weight; three more are a colour, in common use though in no standard.
    const more = [this.#value(), this.#value(), this.#value()];
    const colour = more.every((value) => value >= 0)
      ? more.map((value) => (value > 1 ? value / 255 : value))
      : undefined;
    if (colour && !this.#colours) {
      this.#colours = new NumberList(Float32Array);
      for (let i = 4; i < (this.#positions.length / 3) * 4; i++) this.#colours.push(1);
    }
    if (this.#colours) {
      for (let i = 0; i < 3; i++) this.#colours.push(colour ? linearFromSrgb(Math.min(1, colour[i])) : 1);
      this.#colours.push(1);
    }
  }

  #value(): number {
    return this.#scanner.more() ? this.#scanner.number() : NaN;
  }

  #uv(): void {
    this.#scanner.at += 2;
    const [u, v] = [this.#value(), this.#value()];
    this.#uvs.push(Number.isFinite(u) ? u : 0);
    // The origin of the picture is lower left here, upper left in the scene.
    this.#uvs.push(Number.isFinite(v) ? 1 - v : 1);
  }

  #normal(): void {
    this.#scanner.at += 2;
    const [x, y, z] = [this.#value(), this.#value(), this.#value()];
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 0 && Number.isFinite(length)) this.#normals.push3(x / length, y / length, z / length);
    else this.#normals.push3(0, 1, 0);
  }

  /** Number of a thing as written (from 1, or from the end where negative) to its place; -1 where there is no such thing. */
  #index(written: number, count: number): number {
    const index = written < 0 ? count + written : written - 1;
    return index >= 0 && index < count ? index : -1;
  }

  #usable(index: number): boolean {
    return (
      index >= 0 &&
      Number.isFinite(
        this.#positions.at(index * 3) + this.#positions.at(index * 3 + 1) + this.#positions.at(index * 3 + 2),
      )
    );
  }

  #readFace(): void {
    const scanner = this.#scanner;
    scanner.at++;
    const face = this.#face;
    const faceUvs = this.#faceUvs;
    const faceNormals = this.#faceNormals;
    face.length = faceUvs.length = faceNormals.length = 0;
    const vertices = this.#positions.length / 3;
    let sound = true;
    while (scanner.more()) {
      const written = scanner.integer();
      if (Number.isNaN(written)) {
        scanner.word();
        sound = false;
        continue;
      }
      const index = this.#index(written, vertices);
      if (!this.#usable(index)) sound = false;
      face.push(index);
      let uv = -1;
      let normal = -1;
      if (scanner.skip(47)) {
        const number = scanner.integer();
        if (!Number.isNaN(number)) uv = this.#index(number, this.#uvs.length / 2);
        if (scanner.skip(47)) {
          const last = scanner.integer();
          if (!Number.isNaN(last)) normal = this.#index(last, this.#normals.length / 3);
        }
      }
      faceUvs.push(uv);
      faceNormals.push(normal);
    }
    if (!sound || face.length < 3) return this.#note();
    const run = this.#run();
    if (face.length === 3) {
      for (let i = 0; i < 3; i++) this.#corner(i);
    } else {
      const positions = this.#positions;
      const at = (i: number) =>
        [positions.at(face[i] * 3), positions.at(face[i] * 3 + 1), positions.at(face[i] * 3 + 2)] as const;
      for (const i of triangulate(at, face.length)) this.#corner(i);
    }
    run.end = this.#corners.length;
  }

  #corner(i: number): void {
    const at = this.#corners.length;
    this.#corners.push(this.#face[i]);
    this.#late(this.#cornerUvs, this.#faceUvs[i], at);
    this.#late(this.#cornerNormals, this.#faceNormals[i], at);
  }

  /** Adds to a list that is only kept once there is something to put into it. */
  #late(list: NumberList<Int32Array>, value: number, at: number): void {
    if (list.length === 0 && value < 0) return;
    while (list.length < at) list.push(-1);
    list.push(value);
  }

  #note(): void {
    this.#wrong++;
    this.#wrongLine ||= this.#scanner.line;
  }

  #current(): Part {
    if (this.#part) return this.#part;
    const key = `${this.#object}\n${this.#group}`;
    let part = this.#parts.get(key);
    if (!part) {
      const lines = new NumberList(Uint32Array, 16);
      part = { object: this.#object, group: this.#group, runs: [], lines, points: new NumberList(Uint32Array, 16) };
      this.#parts.set(key, part);
    }
    this.#part = part;
    return part;
  }

  #run() {
    const { runs } = this.#current();
    const last = runs.at(-1);
    const start = this.#corners.length;
    if (last?.end === start && last.material === this.#material && last.smoothing === this.#smoothing) return last;
    const run = { material: this.#material, smoothing: this.#smoothing, start, end: start };
    runs.push(run);
    return run;
  }

  #keyword(): void {
    const scanner = this.#scanner;
    const key = scanner.word().toLowerCase();
    if (key === 'l' || key === 'p') return this.#lineOrPoints(key);
    const rest = scanner.more() ? scanner.rest() : '';
    if (key === 'o') {
      this.#object = rest;
      this.#group = '';
      this.#part = undefined;
    } else if (key === 'g') {
      this.#group = rest;
      this.#part = undefined;
    } else if (key === 'usemtl') this.#material = rest;
    else if (key === 's') this.#smoothing = rest === 'off' ? 0 : Number.parseInt(rest) || 0;
    else if (key === 'mtllib') this.#library(rest);
    else if (['curv', 'curv2', 'surf', 'cstype', 'vp'].includes(key))
      this.builder.notRead.add('Free-form curves and surfaces are not read; ask for them as polygons, or for STEP.');
  }

  #lineOrPoints(key: 'l' | 'p'): void {
    const scanner = this.#scanner;
    const list: number[] = [];
    while (scanner.more()) {
      const written = scanner.integer();
      scanner.word();
      const index = this.#index(written, this.#positions.length / 3);
      if (this.#usable(index)) list.push(index);
      else return this.#note();
    }
    const part = this.#current();
    if (key === 'p') for (const index of list) part.points.push(index);
    else
      for (let i = 1; i < list.length; i++) {
        part.lines.push(list[i - 1]);
        part.lines.push(list[i]);
      }
  }

  /** One name with blanks, or several names. */
  #library(text: string): void {
    const { beside } = this.file;
    const whole = beside?.find(text, this.file.name);
    for (const name of whole ? [text] : text.split(/\s+/)) {
      const path = beside?.find(name, this.file.name);
      if (!beside || path === undefined) {
        this.builder.warn(
          'missing-file',
          `The material file ${name} is not there. Drop it together with ${this.file.name}.`,
          `line ${this.#scanner.line}`,
        );
        continue;
      }
      for (const [material, id] of readMtl(beside.bytes(path), path, this.builder)) this.#materials.set(material, id);
    }
  }

  #place(): void {
    const objects = new Map<string, number>();
    const inObject = new Map<string, number>();
    for (const part of this.#parts.values()) inObject.set(part.object, (inObject.get(part.object) ?? 0) + 1);
    const root = baseName(this.file.name);
    const unknown = new Set<string>();
    for (const part of this.#parts.values()) {
      const triangles = part.runs.reduce((sum, run) => sum + (run.end - run.start) / 3, 0);
      if (triangles + part.lines.length + part.points.length === 0) continue;
      let parent: number | undefined;
      if (part.object && (inObject.get(part.object) ?? 0) > 1) {
        parent = objects.get(part.object);
        if (parent === undefined) {
          parent = this.builder.node({ name: part.object, kind: 'assembly' });
          objects.set(part.object, parent);
        }
      }
      const name = parent === undefined ? part.object || part.group || root : part.group || part.object;
      const all = [...new Set(part.runs.map((run) => run.material))];
      const slots = all.slice(0, MAX_SLOTS);
      const materials = slots.map((material) => {
        const id = this.#materials.get(material);
        if (id === undefined && material) unknown.add(material);
        return (
          id ??
          (material
            ? this.builder.material({
                name: material,
                baseColor: [0.6, 0.6, 0.6],
                opacity: 1,
                metallic: 0,
                roughness: 0.7,
              })
            : 'none')
        );
      });
      if (triangles + part.lines.length > 0) {
        const geometry = this.builder.geometry({
          triangles,
          bounds: this.#boundsOf(part),
          slots: Math.max(1, slots.length),
          make: () => this.#mesh(part, slots),
        });
        this.builder.node({ name, geometry, materials, ...(parent === undefined ? {} : { parent }) });
      }
      if (part.points.length > 0) {
        const cloud = this.builder.mesh(this.#cloud(part.points.values));
        this.builder.node({
          name: triangles > 0 ? `${name} points` : name,
          geometry: cloud,
          ...(parent === undefined ? {} : { parent }),
        });
      }
    }
    if (this.builder.size === 0 && this.#positions.length > 0)
      this.builder.node({ name: root, geometry: this.builder.mesh(this.#cloud()) });
    if (unknown.size > 0)
      this.builder.warn(
        'missing-material',
        `${unknown.size} materials are used and not described: ${[...unknown].slice(0, 5).join(', ')}. Drop the material file (.mtl) together with ${this.file.name}.`,
      );
  }

  #boundsOf(part: Part) {
    const min: [number, number, number] = [Infinity, Infinity, Infinity];
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    const add = (vertex: number) => {
      for (let axis = 0; axis < 3; axis++) {
        const value = this.#positions.at(vertex * 3 + axis);
        if (value < min[axis]) min[axis] = value;
        if (value > max[axis]) max[axis] = value;
      }
    };
    for (const { start, end } of part.runs) for (let i = start; i < end; i++) add(this.#corners.at(i));
    part.lines.values.forEach(add);
    return { min, max };
  }

  /** Some vertices, or all of a file that has nothing else, as points. */
  #cloud(vertices?: Uint32Array): BareMesh {
    const { values } = this.#positions;
    const colours = this.#colours?.values;
    const groups: MeshGroup[] = [];
    const indices = new Uint32Array();
    if (!vertices)
      return { positions: values.slice(), indices, groups, ...(colours ? { colours: colours.slice() } : {}) };
    const positions = new Float64Array(vertices.length * 3);
    vertices.forEach((vertex, i) => positions.set(values.subarray(vertex * 3, vertex * 3 + 3), i * 3));
    return { positions, indices, groups, ...(colours ? { colours: gather(colours, 4, vertices) } : {}) };
  }

  /** Triangles of a part, sorted by material; corners that are alike in all become one vertex. */
  #mesh(part: Part, slots: string[]): BareMesh {
    const corners = part.runs.reduce((sum, run) => sum + run.end - run.start, 0);
    const indices = new Uint32Array(corners);
    const table = new HashTable(corners);
    const from = new NumberList(Int32Array, corners > 3000 ? Math.ceil(corners / 5) : corners);
    const { values: positions } = this.#positions;
    const uvOf = (i: number) => (i < this.#cornerUvs.length ? this.#cornerUvs.at(i) : -1);
    const normalOf = (i: number) => (i < this.#cornerNormals.length ? this.#cornerNormals.at(i) : -1);
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
          const vertex = this.#corners.at(i);
          const uv = uvOf(i);
          const normal = normalOf(i);
          if (normal < 0) hasNormals = false;
          if (uv >= 0) hasUvs = true;
          const place = table.placeOf(vertex, uv, normal);
          let found = table.heads[place];
          for (; found >= 0; found = table.next[found]) {
            const other = from.at(found);
            if (this.#corners.at(other) === vertex && uvOf(other) === uv && normalOf(other) === normal) break;
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
    const colours = this.#colours ? new Float32Array(count * 4) : undefined;
    for (let v = 0; v < count; v++) {
      const corner = from.at(v);
      const vertex = this.#corners.at(corner);
      const uv = uvOf(corner);
      for (let axis = 0; axis < 3; axis++) out[v * 3 + axis] = positions[vertex * 3 + axis];
      if (uvs && uv >= 0) {
        uvs[v * 2] = this.#uvs.at(uv * 2);
        uvs[v * 2 + 1] = this.#uvs.at(uv * 2 + 1);
      }
      if (normals)
        for (let axis = 0; axis < 3; axis++) normals[v * 3 + axis] = this.#normals.at(normalOf(corner) * 3 + axis);
      if (colours && this.#colours) for (let i = 0; i < 4; i++) colours[v * 4 + i] = this.#colours.at(vertex * 4 + i);
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
