/** Reader of STL (stereolithography) files, binary and text, with one or several solids. The format has no unit and no colours. */
import { NumberList } from '../mesh/numberList.ts';
import { HashTable } from '../mesh/hashTable.ts';
import type { BareMesh } from '../mesh/normals.ts';
import { PrismError } from '../errors.ts';
import { SceneBuilder } from './builder.ts';
import { baseName } from './paths.ts';
import type { Seen } from '../surroundings.ts';
import type { Reader, SourceFile } from './reader.ts';
import { asUtf8, headOf, REPORTED_EVERY, Scanner, SEEN_NAMES } from './scanner.ts';

export const stlReader: Reader = {
  format: 'STL',
  endings: ['stl'],
  recognises: ({ bytes }) => isText(bytes) || trianglesOf(bytes) * 50 + 84 === bytes.length,
  read: async (file, sourceId) => {
    const builder = new SceneBuilder(file, sourceId, {
      format: 'STL',
      schema: isText(file.bytes) ? 'text' : 'binary',
      // The format has no unit; millimetres are meant nearly always (common practice).
      unit: { name: 'mm', metres: 0.001, declared: false },
      upAxis: { axis: 'z', by: 'convention' },
    });
    builder.notRead.add('STL holds no unit, colours, materials, textures or tree.');
    if (isText(file.bytes)) readText(file, builder);
    else readBinary(file, builder);
    return builder.reading();
  },
};

/** A binary triangle takes fifty bytes. */
const REPORTED_TRIANGLES = REPORTED_EVERY / 50;

/** Text begins with `solid`; so do many binary files, which then have no facet in their first lines. */
function isText(bytes: Uint8Array): boolean {
  const head = headOf(bytes, 600);
  return /^\s*solid\b/.test(head) && (/\bfacet\s+normal\b|\bendsolid\b/.test(head) || !/[\u0000\ufffd]/.test(head));
}

function trianglesOf(bytes: Uint8Array): number {
  return bytes.length < 84 ? -1 : new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true);
}

function readBinary(file: SourceFile, builder: SceneBuilder): void {
  const { bytes, name, progress } = file;
  const stated = trianglesOf(bytes);
  const there = Math.floor((bytes.length - 84) / 50);
  if (stated < 0) throw new PrismError('not-readable', `${name} is too short for an STL file.`, { file: name });
  if (stated > there)
    builder.warn(
      'truncated',
      `${name} states ${stated} triangles and holds ${there}: it is cut off. What is there is kept.`,
    );
  const count = Math.min(stated, there);
  const points = new PointTable(count);
  const indices = new Uint32Array(count * 3);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let kept = 0;
  for (let t = 0; t < count; t++) {
    if (t % REPORTED_TRIANGLES === REPORTED_TRIANGLES - 1)
      progress?.(t / count, { format: 'STL', head: 'binary', what: 'solids', count: 1, names: [], triangles: count });
    const at = 84 + t * 50 + 12;
    let sound = true;
    for (let corner = 0; corner < 3; corner++) {
      const x = view.getFloat32(at + corner * 12, true);
      const y = view.getFloat32(at + corner * 12 + 4, true);
      const z = view.getFloat32(at + corner * 12 + 8, true);
      if (!Number.isFinite(x + y + z)) sound = false;
      else indices[kept * 3 + corner] = points.add(x, y, z);
    }
    if (sound) kept++;
  }
  if (kept < count)
    builder.warn('bad-numbers', `${count - kept} triangles have coordinates that are no numbers; they are left out.`);
  const title = headOf(bytes, 80)
    .replace(/[\u0000\ufffd].*$/s, '')
    .trim();
  place(builder, points, indices.subarray(0, kept * 3), title || baseName(name));
}

function readText(file: SourceFile, builder: SceneBuilder): void {
  let triangles = 0;
  const names: string[] = [];
  const seen = (): Seen => ({
    ...{ format: 'STL', head: 'text', what: 'solids', count: solids, names: names.slice(-SEEN_NAMES) },
    triangles: triangles + indices.length / 3,
  });
  const scanner = new Scanner(asUtf8(file.bytes), file.progress && ((share) => file.progress?.(share, seen())));
  let points = new PointTable();
  let indices = new NumberList(Uint32Array);
  let name = baseName(file.name);
  let solids = 0;
  let bad = 0;
  const corner: number[] = [];
  const finish = () => {
    triangles += indices.length / 3;
    if (indices.length > 0) place(builder, points, indices.values, name);
    points = new PointTable();
    indices = new NumberList(Uint32Array);
  };
  while (scanner.anywhere()) {
    const letter = scanner.bytes[scanner.at] | 32;
    if (letter === 118) {
      scanner.word();
      for (let axis = 0; axis < 3; axis++) {
        scanner.more();
        corner.push(scanner.number());
      }
      if (corner.length === 9) {
        if (corner.every(Number.isFinite))
          for (let i = 0; i < 9; i += 3) indices.push(points.add(corner[i], corner[i + 1], corner[i + 2]));
        else bad++;
        corner.length = 0;
      }
    } else if (letter === 115) {
      finish();
      scanner.word();
      name = (scanner.more() ? scanner.rest() : '') || (solids === 0 ? baseName(file.name) : `Solid ${solids + 1}`);
      names.push(name);
      solids++;
    } else if (letter === 102) corner.length = 0;
    scanner.nextLine();
  }
  finish();
  if (bad > 0) builder.warn('bad-numbers', `${bad} triangles have coordinates that are no numbers; they are left out.`);
  if (corner.length > 0)
    builder.warn(
      'truncated',
      `${file.name} ends inside a triangle. What was complete is kept.`,
      `line ${scanner.line}`,
    );
}

function place(builder: SceneBuilder, points: PointTable, indices: Uint32Array, name: string): void {
  if (indices.length === 0) return;
  const mesh: BareMesh = {
    positions: points.positions,
    indices: indices.slice(),
    groups: [{ slot: 0, start: 0, count: indices.length }],
  };
  builder.node({ name, geometry: builder.mesh(mesh) });
}

/** Points at exactly the same place get one number: the format repeats each for every triangle around it. */
class PointTable {
  readonly #values: NumberList<Float32Array>;
  #table: HashTable;
  #room: number;
  readonly #exact = new Float32Array(3);
  readonly #bits = new Int32Array(this.#exact.buffer);

  /** @param triangles how many are expected: half as many points are made room for */
  constructor(triangles = 1024) {
    this.#room = Math.max(64, Math.ceil(triangles * 0.55));
    this.#values = new NumberList(Float32Array, this.#room * 3);
    this.#table = new HashTable(this.#room);
  }

  get positions(): Float32Array {
    return this.#values.values.slice();
  }

  add(x: number, y: number, z: number): number {
    const exact = this.#exact;
    // Adding zero turns -0 into 0: two names for one place.
    exact[0] = x + 0;
    exact[1] = y + 0;
    exact[2] = z + 0;
    const values = this.#values;
    const place = this.#place();
    for (let other = this.#table.heads[place]; other >= 0; other = this.#table.next[other]) {
      const at = other * 3;
      if (values.at(at) === exact[0] && values.at(at + 1) === exact[1] && values.at(at + 2) === exact[2]) return other;
    }
    const index = values.length / 3;
    if (index < this.#room) this.#table.add(index, place);
    else this.#widen();
    values.push3(exact[0], exact[1], exact[2]);
    return index;
  }

  #place(): number {
    return this.#table.placeOf(this.#bits[0], this.#bits[1], this.#bits[2]);
  }

  /** A table twice as wide, with all points so far and the one at hand. */
  #widen(): void {
    this.#room *= 2;
    this.#table = new HashTable(this.#room);
    const values = this.#values;
    const [x, y, z] = this.#exact;
    const count = values.length / 3;
    for (let i = 0; i < count; i++) {
      this.#exact[0] = values.at(i * 3);
      this.#exact[1] = values.at(i * 3 + 1);
      this.#exact[2] = values.at(i * 3 + 2);
      this.#table.add(i, this.#place());
    }
    this.#exact[0] = x;
    this.#exact[1] = y;
    this.#exact[2] = z;
    this.#table.add(count, this.#place());
  }
}
