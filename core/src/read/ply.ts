/** Reader of PLY (polygon file format) files, text and both binaries: meshes with colours and texture coordinates, and clouds of points. */
import { linearFromSrgb } from '../finish/colour.ts';
import type { BareMesh } from '../mesh/normals.ts';
import { triangulate } from '../mesh/polygons.ts';
import { PrismError } from '../errors.ts';
import type { Seen } from '../surroundings.ts';
import { SceneBuilder } from './builder.ts';
import { NumberList } from '../mesh/numberList.ts';
import { baseName } from './paths.ts';
import type { Reader, SourceFile } from './reader.ts';
import { Scanner } from './scanner.ts';
import { referredTexture } from './referredTexture.ts';

export const plyReader: Reader = {
  format: 'PLY',
  endings: ['ply'],
  recognises: ({ bytes }) => bytes[0] === 0x70 && bytes[1] === 0x6c && bytes[2] === 0x79 && bytes[3] <= 32,
  read: async (file, sourceId) => readPly(file, sourceId),
};

/** Largest polygon that is taken. */
const MAX_CORNERS = 100_000;

const SIZES: Record<string, number> = {
  char: 1, int8: 1, uchar: 1, uint8: 1, short: 2, int16: 2, ushort: 2, uint16: 2, int: 4, int32: 4, uint: 4, uint32: 4,
  float: 4, float32: 4, double: 8, float64: 8,
}; // prettier-ignore

interface Property {
  name: string;
  type: string;
  /** Type of the count, for lists. */
  count?: string;
}

interface Element {
  name: string;
  count: number;
  properties: Property[];
}

interface Header {
  form: 'ascii' | 'binary_little_endian' | 'binary_big_endian';
  elements: Element[];
  comments: string[];
  /** First byte after the header. */
  end: number;
}

function readPly(file: SourceFile, sourceId: string) {
  const header = readHeader(file);
  const producer = header.comments.find((comment) => !/^texturefile/i.test(comment)) ?? '';
  const builder = new SceneBuilder(file, sourceId, {
    format: 'PLY',
    schema: header.form.replaceAll('_', ' ').replace('ascii', 'text'),
    producer,
    // The format has no unit and no up axis; scans are in metres, mostly z up (common practice).
    unit: { name: 'm', metres: 1, declared: false },
    upAxis: { axis: 'z', by: 'convention' },
  });
  builder.notRead.add('PLY holds no unit, materials or tree.');
  const values = header.form === 'ascii' ? new TextValues(file, header) : new BinaryValues(file, header);
  const mesh = readElements(header, values, builder, file.name);
  const picture = header.comments.find((comment) => /^texturefile\s/i.test(comment));
  const materials = picture
    ? [
        builder.material({
          name: baseName(file.name),
          baseColor: [1, 1, 1],
          opacity: 1,
          metallic: 0,
          roughness: 0.8,
          textures: { baseColor: { texture: referredTexture(builder, picture.replace(/^\S+\s+/, '')), uv: 0 } },
        }),
      ]
    : undefined;
  builder.node({ name: baseName(file.name), geometry: builder.mesh(mesh), ...(materials ? { materials } : {}) });
  return builder.reading();
}

function readHeader({ bytes, name }: SourceFile): Header {
  const scanner = new Scanner(bytes);
  const bad = (why: string) =>
    new PrismError('not-readable', `${name}: ${why}`, { file: name, where: `line ${scanner.line}` });
  const header: Header = { form: 'ascii', elements: [], comments: [], end: 0 };
  while (!scanner.ended && scanner.at < 1_000_000) {
    const [word, ...words] = (scanner.more() ? scanner.rest() : '').split(/\s+/);
    scanner.nextLine();
    if (word === 'format') {
      if (!['ascii', 'binary_little_endian', 'binary_big_endian'].includes(words[0]))
        throw bad(`the form ${words[0]} is not known.`);
      header.form = words[0] as Header['form'];
    } else if (word === 'comment' || word === 'obj_info') header.comments.push(words.join(' '));
    else if (word === 'element') {
      const count = Number(words[1]);
      if (!Number.isSafeInteger(count) || count < 0)
        throw bad(`the number of ${words[0]} is not a number: ${words[1]}.`);
      header.elements.push({ name: words[0], count, properties: [] });
    } else if (word === 'property') {
      const isList = words[0] === 'list';
      const types = isList ? words.slice(1, 3) : words.slice(0, 1);
      const wrong = types.find((type) => !(type in SIZES));
      if (wrong !== undefined || !header.elements.length)
        throw bad(`the property ${words.join(' ')} has a type that is not known.`);
      const last = header.elements[header.elements.length - 1];
      last.properties.push(
        isList ? { name: words[3], type: words[2], count: words[1] } : { name: words[1], type: words[0] },
      );
    } else if (word === 'end_header') {
      header.end = scanner.at;
      if (!header.elements.some((element) => element.name === 'vertex')) throw bad('it has no vertices.');
      return header;
    }
  }
  throw bad('its header does not end.');
}

/** The header tells all there is, before any of it has been read. */
function seenIn({ form, elements }: Header): Seen {
  const countOf = (name: string) => elements.find((element) => element.name === name)?.count ?? 0;
  const head = form === 'ascii' ? 'text' : 'binary';
  return { format: 'PLY', head, what: 'vertices', count: countOf('vertex'), names: [], triangles: countOf('face') };
}

/** Values of the body one after the other; NaN past its end. */
interface Values {
  next(type: string): number;
  readonly ended: boolean;
  readonly where: string;
  /** Bytes left: more values than bytes cannot be there. */
  readonly left: number;
}

class TextValues implements Values {
  readonly #scanner: Scanner;
  constructor(file: SourceFile, header: Header) {
    this.#scanner = new Scanner(file.bytes, file.progress && ((share) => file.progress?.(share, seenIn(header))));
    this.#scanner.at = header.end;
  }
  next(): number {
    return this.#scanner.anywhere() ? this.#scanner.number() : NaN;
  }
  get ended(): boolean {
    return !this.#scanner.anywhere();
  }
  get where(): string {
    return `byte ${this.#scanner.at}`;
  }
  get left(): number {
    return this.#scanner.bytes.length - this.#scanner.at;
  }
}

class BinaryValues implements Values {
  readonly #view: DataView;
  readonly #little: boolean;
  readonly #getters = new Map<string, (at: number) => number>();
  #at: number;
  constructor(file: SourceFile, header: Header) {
    this.#view = new DataView(file.bytes.buffer, file.bytes.byteOffset, file.bytes.byteLength);
    this.#little = header.form === 'binary_little_endian';
    this.#at = header.end;
  }
  next(type: string): number {
    const at = this.#at;
    const size = SIZES[type];
    if (at + size > this.#view.byteLength) {
      this.#at = this.#view.byteLength;
      return NaN;
    }
    this.#at = at + size;
    return this.getter(type)(at);
  }
  /** Reads a value of a type at a place. */
  getter(type: string): (at: number) => number {
    let known = this.#getters.get(type);
    if (!known) this.#getters.set(type, (known = getterOf(this.#view, type, this.#little)));
    return known;
  }
  /** Goes over that many bytes, and tells where they begin. */
  take(bytes: number): number {
    const at = this.#at;
    this.#at = Math.min(at + bytes, this.#view.byteLength);
    return at;
  }
  get ended(): boolean {
    return this.#at >= this.#view.byteLength;
  }
  get where(): string {
    return `byte ${this.#at}`;
  }
  get left(): number {
    return this.#view.byteLength - this.#at;
  }
}

function getterOf(view: DataView, type: string, little: boolean): (at: number) => number {
  switch (type) {
    case 'float':
    case 'float32':
      return (at) => view.getFloat32(at, little);
    case 'uchar':
    case 'uint8':
      return (at) => view.getUint8(at);
    case 'int':
    case 'int32':
      return (at) => view.getInt32(at, little);
    case 'uint':
    case 'uint32':
      return (at) => view.getUint32(at, little);
    case 'char':
    case 'int8':
      return (at) => view.getInt8(at);
    case 'short':
    case 'int16':
      return (at) => view.getInt16(at, little);
    case 'ushort':
    case 'uint16':
      return (at) => view.getUint16(at, little);
    default:
      return (at) => view.getFloat64(at, little);
  }
}

interface Vertices {
  positions: Float64Array;
  normals?: Float32Array;
  uvs?: Float32Array;
  colours?: Float32Array;
}

function readElements(header: Header, values: Values, builder: SceneBuilder, name: string): BareMesh {
  let vertices: Vertices = { positions: new Float64Array() };
  const indices = new NumberList(Uint32Array);
  for (const element of header.elements) {
    if (element.name === 'vertex') vertices = readVertices(element, values, builder, name);
    else if (element.name === 'face') readFaces(element, values, vertices, indices, builder, false);
    else if (element.name === 'tristrips') readFaces(element, values, vertices, indices, builder, true);
    else {
      if (element.count > 0)
        builder.notRead.add(`${element.count} of “${element.name}”, which is not geometry to draw.`);
      for (let i = 0; i < element.count && !values.ended; i++) skip(element.properties, values);
    }
  }
  const { positions, normals, uvs, colours } = vertices;
  const extra = { ...(uvs ? { uvs: [uvs] } : {}), ...(colours ? { colours } : {}) };
  const groups = indices.length > 0 ? [{ slot: 0, start: 0, count: indices.length }] : [];
  return { positions, indices: indices.values.slice(), groups, ...extra, ...(normals ? { normals } : {}) };
}

function readVertices(element: Element, values: Values, builder: SceneBuilder, name: string): Vertices {
  const { properties } = element;
  const smallest = properties.reduce((sum, { type, count }) => sum + (count ? SIZES[count] : SIZES[type]), 0);
  // Text needs a digit and a blank for each number.
  const least = values instanceof TextValues ? properties.length * 2 : smallest;
  const count = Math.min(element.count, Math.ceil(values.left / Math.max(1, least)));
  const columnOf = (...names: string[]) =>
    properties.findIndex((property) => names.includes(property.name) && !property.count);
  const columns = [columnOf('x'), columnOf('y'), columnOf('z')];
  if (columns.includes(-1))
    throw new PrismError('not-readable', `${name}: its vertices have no x, y and z.`, { file: name });
  const normalColumns = [columnOf('nx'), columnOf('ny'), columnOf('nz')];
  const uvColumns = [columnOf('u', 's', 'texture_u'), columnOf('v', 't', 'texture_v')];
  const colourColumns = [
    columnOf('red', 'diffuse_red', 'r'),
    columnOf('green', 'diffuse_green', 'g'),
    columnOf('blue', 'diffuse_blue', 'b'),
  ];
  const alpha = columnOf('alpha', 'a');
  const has = (list: number[]) => !list.includes(-1);
  const out: Vertices = { positions: new Float64Array(count * 3) };
  if (has(normalColumns)) out.normals = new Float32Array(count * 3);
  if (has(uvColumns)) out.uvs = new Float32Array(count * 2);
  if (has(colourColumns)) out.colours = new Float32Array(count * 4);
  // Whole numbers stand for shares of their largest; they were chosen on a screen.
  const most: Record<string, number> = { uchar: 255, uint8: 255, ushort: 65535, uint16: 65535 };
  const share = (column: number) => most[properties[column]?.type] ?? 1;
  const row = new Float64Array(properties.length);
  const fill = rowFiller(properties, values, row);
  let read = 0;
  let bad = 0;
  for (; read < count; read++) {
    if (!fill()) break;
    const [x, y, z] = columns;
    if (!Number.isFinite(row[x] + row[y] + row[z])) {
      // Kept in its place, so that the faces' numbers stay right; faces that use it are left out.
      bad++;
      out.positions.fill(NaN, read * 3, read * 3 + 3);
    } else {
      out.positions[read * 3] = row[x];
      out.positions[read * 3 + 1] = row[y];
      out.positions[read * 3 + 2] = row[z];
    }
    if (out.normals) for (let axis = 0; axis < 3; axis++) out.normals[read * 3 + axis] = row[normalColumns[axis]];
    if (out.uvs) {
      out.uvs[read * 2] = row[uvColumns[0]];
      // The origin of the picture is lower left here, upper left in the scene.
      out.uvs[read * 2 + 1] = 1 - row[uvColumns[1]];
    }
    if (out.colours) {
      for (let i = 0; i < 3; i++)
        out.colours[read * 4 + i] = linearFromSrgb(row[colourColumns[i]] / share(colourColumns[i]));
      out.colours[read * 4 + 3] = alpha < 0 ? 1 : row[alpha] / share(alpha);
    }
  }
  if (read < element.count)
    builder.warn(
      'truncated',
      `${name} states ${element.count} vertices and holds ${read}: it is cut off. What is there is kept.`,
      values.where,
    );
  if (bad > 0)
    builder.warn(
      'bad-numbers',
      `${bad} vertices have coordinates that are no numbers; the faces on them are left out.`,
    );
  const cut = <T extends Float32Array | Float64Array>(array: T, size: number) => array.subarray(0, read * size) as T;
  return {
    positions: cut(out.positions, 3),
    ...(out.normals ? { normals: cut(out.normals, 3) } : {}),
    ...(out.uvs ? { uvs: cut(out.uvs, 2) } : {}),
    ...(out.colours ? { colours: cut(out.colours, 4) } : {}),
  };
}

/** Reads one row of an element after the other; false where it is not there in full. */
function rowFiller(properties: Property[], values: Values, row: Float64Array): () => boolean {
  if (values instanceof BinaryValues && properties.every(({ count }) => !count)) {
    // All rows are equally long: every column has its place.
    const getters = properties.map(({ type }) => values.getter(type));
    const offsets = properties.map((_, i) => properties.slice(0, i).reduce((sum, { type }) => sum + SIZES[type], 0));
    const stride = properties.reduce((sum, { type }) => sum + SIZES[type], 0);
    return () => {
      if (values.left < stride) return false;
      const at = values.take(stride);
      for (let i = 0; i < getters.length; i++) row[i] = getters[i](at + offsets[i]);
      return true;
    };
  }
  return () => {
    for (let i = 0; i < properties.length; i++) {
      const { type, count } = properties[i];
      row[i] = count ? readList(properties[i], values).length : values.next(type);
    }
    return !values.ended || Number.isFinite(row[properties.length - 1]);
  };
}

/** Triangles of a binary list, without a list for each: nearly all faces of nearly all files. */
function readTriangles(
  property: Property,
  values: BinaryValues,
  most: number,
  take: (a: number, b: number, c: number) => void,
): number {
  const countOf = values.getter(property.count ?? 'int');
  const indexOf = values.getter(property.type);
  const [head, size] = [SIZES[property.count ?? 'int'], SIZES[property.type]];
  const length = head + 3 * size;
  let read = 0;
  while (read < most && values.left >= length) {
    const at = values.take(0);
    if (countOf(at) !== 3) break;
    values.take(length);
    take(indexOf(at + head), indexOf(at + head + size), indexOf(at + head + 2 * size));
    read++;
  }
  return read;
}

function readFaces(
  element: Element,
  values: Values,
  { positions }: Vertices,
  indices: NumberList<Uint32Array>,
  builder: SceneBuilder,
  strips: boolean,
): void {
  const count = positions.length / 3;
  const list = element.properties.findIndex(({ name, count: many }) => many && /^vertex_ind(ices|ex)$/.test(name));
  if (list < 0) {
    builder.warn('no-faces', `The ${element.count} faces name no vertices and are left out.`);
    for (let i = 0; i < element.count && !values.ended; i++) skip(element.properties, values);
    return;
  }
  const lists = element.properties.filter((property) => property.count).length;
  const usable = (i: number) => i >= 0 && i < count && Number.isFinite(positions[i * 3]);
  let wrong = 0;
  let read = 0;
  const isPlain = values instanceof BinaryValues && !strips && element.properties.length === 1;
  const triangle = (a: number, b: number, c: number) => {
    if (usable(a) && usable(b) && usable(c)) indices.push3(a, b, c);
    else wrong++;
  };
  for (; read < element.count && !values.ended; read++) {
    if (isPlain) {
      read += readTriangles(element.properties[0], values, element.count - read, triangle);
      if (read >= element.count || values.ended) break;
    }
    let corners: number[] = [];
    for (const [i, property] of element.properties.entries()) {
      const value = property.count ? readList(property, values) : [values.next(property.type)];
      // Lists share one scratch array.
      if (i === list) corners = lists > 1 ? [...value] : value;
    }
    if (strips) {
      // Triangles hang on the two corners before; -1 ends a strip.
      let run = 0;
      for (let i = 0; i < corners.length; i++) {
        if (corners[i] < 0) run = 0;
        else if (++run >= 3) {
          const [a, b] = run % 2 ? [corners[i - 2], corners[i - 1]] : [corners[i - 1], corners[i - 2]];
          if ([a, b, corners[i]].every(usable)) indices.push3(a, b, corners[i]);
          else wrong++;
        }
      }
    } else if (corners.length === 3) {
      triangle(corners[0], corners[1], corners[2]);
    } else if (corners.length > 3 && corners.every(usable)) {
      const at = (i: number) =>
        [positions[corners[i] * 3], positions[corners[i] * 3 + 1], positions[corners[i] * 3 + 2]] as const;
      for (const corner of triangulate(at, corners.length)) indices.push(corners[corner]);
    } else wrong++;
  }
  if (read < element.count)
    builder.warn(
      'truncated',
      `${element.count} faces are stated and ${read} are there: the file is cut off. What is there is kept.`,
      values.where,
    );
  if (wrong > 0)
    builder.warn(
      'bad-indices',
      `${wrong} faces name vertices that are not there, or fewer than three; they are left out.`,
    );
}

const scratch: number[] = [];

function readList({ type, count }: Property, values: Values): number[] {
  const length = values.next(count ?? 'int');
  scratch.length = 0;
  if (!(length >= 0 && length <= MAX_CORNERS)) return scratch;
  for (let i = 0; i < length && !values.ended; i++) scratch.push(values.next(type));
  return scratch;
}

function skip(properties: Property[], values: Values): void {
  for (const property of properties) {
    if (property.count) readList(property, values);
    else values.next(property.type);
  }
}
