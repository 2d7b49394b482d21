/**
 * Reader of OBJ files with their MTL and pictures: objects, groups, smoothing groups, polygons of any size, negative numbers,
 * colours of vertices; faces, lines and points in any mixture.
 */
import { linearFromSrgb } from '../../finish/colour.ts';
import { NumberList } from '../../mesh/numberList.ts';
import { triangulate } from '../../mesh/polygons.ts';
import type { Seen } from '../../surroundings.ts';
import { SceneBuilder } from '../builder.ts';
import { baseName } from '../paths.ts';
import type { Reader, SourceFile } from '../reader.ts';
import { asUtf8, headOf, Scanner, SEEN_NAMES } from '../scanner.ts';
import { ObjData } from './data.ts';
import type { ObjPart } from './data.ts';
import { estimateObj } from './estimate.ts';
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

/** Most materials that one part may have as slots. */
const MAX_SLOTS = 4096;

class ObjText {
  readonly #scanner: Scanner;
  readonly #data: ObjData;
  readonly #parts = new Map<string, ObjPart>();
  readonly #materials = new Map<string, string>();
  #part: ObjPart | undefined;
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
    const bytes = asUtf8(file.bytes);
    this.#data = new ObjData(estimateObj(bytes));
    this.#scanner = new Scanner(bytes, file.progress && ((share) => file.progress?.(share, this.#seen())));
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
    const triangles = this.#data.corners.length / 3;
    return { format: 'OBJ', what: 'objects', count: this.#parts.size, names: names.filter(Boolean), triangles };
  }

  #vertex(): void {
    const scanner = this.#scanner;
    scanner.at++;
    const [x, y, z] = [this.#value(), this.#value(), this.#value()];
    if (!Number.isFinite(x + y + z)) this.#badNumbers++;
    this.#data.positions.push3(x, y, z);
    if (!scanner.more()) {
      if (this.#data.colours) for (let i = 0; i < 4; i++) this.#data.colours.push(1);
      return;
    }
    // A fourth value is a weight; three more are a colour, in common use though in no standard.
    const more = [this.#value(), this.#value(), this.#value()];
    const colour = more.every((value) => value >= 0)
      ? more.map((value) => (value > 1 ? value / 255 : value))
      : undefined;
    if (colour && !this.#data.colours) {
      this.#data.colours = new NumberList(Float32Array);
      for (let i = 4; i < (this.#data.positions.length / 3) * 4; i++) this.#data.colours.push(1);
    }
    if (this.#data.colours) {
      for (let i = 0; i < 3; i++) this.#data.colours.push(colour ? linearFromSrgb(Math.min(1, colour[i])) : 1);
      this.#data.colours.push(1);
    }
  }

  #value(): number {
    return this.#scanner.more() ? this.#scanner.number() : NaN;
  }

  #uv(): void {
    this.#scanner.at += 2;
    const [u, v] = [this.#value(), this.#value()];
    this.#data.uvs.push(Number.isFinite(u) ? u : 0);
    // The origin of the picture is lower left here, upper left in the scene.
    this.#data.uvs.push(Number.isFinite(v) ? 1 - v : 1);
  }

  #normal(): void {
    this.#scanner.at += 2;
    const [x, y, z] = [this.#value(), this.#value(), this.#value()];
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 0 && Number.isFinite(length)) this.#data.normals.push3(x / length, y / length, z / length);
    else this.#data.normals.push3(0, 1, 0);
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
        this.#data.positions.at(index * 3) +
          this.#data.positions.at(index * 3 + 1) +
          this.#data.positions.at(index * 3 + 2),
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
    const vertices = this.#data.positions.length / 3;
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
        if (!Number.isNaN(number)) uv = this.#index(number, this.#data.uvs.length / 2);
        if (scanner.skip(47)) {
          const last = scanner.integer();
          if (!Number.isNaN(last)) normal = this.#index(last, this.#data.normals.length / 3);
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
      const positions = this.#data.positions;
      const at = (i: number) =>
        [positions.at(face[i] * 3), positions.at(face[i] * 3 + 1), positions.at(face[i] * 3 + 2)] as const;
      for (const i of triangulate(at, face.length)) this.#corner(i);
    }
    run.end = this.#data.corners.length;
  }

  #corner(i: number): void {
    const at = this.#data.corners.length;
    this.#data.corners.push(this.#face[i]);
    this.#late(this.#data.cornerUvs, this.#faceUvs[i], at);
    this.#late(this.#data.cornerNormals, this.#faceNormals[i], at);
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

  #current(): ObjPart {
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
    const start = this.#data.corners.length;
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
      const index = this.#index(written, this.#data.positions.length / 3);
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
        const geometry = this.builder.geometry(this.#data.geometryOf(part, slots));
        this.builder.node({ name, geometry, materials, ...(parent === undefined ? {} : { parent }) });
      }
      if (part.points.length > 0) {
        const cloud = this.builder.mesh(this.#data.cloud(part.points.values));
        this.builder.node({
          name: triangles > 0 ? `${name} points` : name,
          geometry: cloud,
          ...(parent === undefined ? {} : { parent }),
        });
      }
    }
    if (this.builder.size === 0 && this.#data.positions.length > 0)
      this.builder.node({ name: root, geometry: this.builder.mesh(this.#data.cloud()) });
    if (unknown.size > 0)
      this.builder.warn(
        'missing-material',
        `${unknown.size} materials are used and not described: ${[...unknown].slice(0, 5).join(', ')}. Drop the material file (.mtl) together with ${this.file.name}.`,
      );
  }
}
