/** Reads the binary form of USD (a crate) into a layer: its tables by the parser of three.js, what that leaves out here. */
import { USDCParser } from 'three/addons/loaders/usd/USDCParser.js';
import type { CrateValue } from 'three/addons/loaders/usd/USDCParser.js';
import { newPrim, overTime, stringIn, stringsIn, UsdAsset, UsdPath, variantOf } from './layer.ts';
import type { UsdArc, UsdLayer, UsdPrim, UsdProperty, UsdValue } from './layer.ts';

/** Bytes at the start of every crate. */
export const CRATE_MAGIC = 'PXR-USDC';

/** Numbers that one byte of a file may stand for: lists of whole numbers are packed, but not beyond this. */
const MOST_PACKED = 2000;
/** The same for entries of the tables, each of which needs some bytes elsewhere too. */
const MOST_ENTRIES = 64;
/** A block of LZ4 unpacks to at most 255 times its size. */
const MOST_UNPACKED = 256;

const [ATTRIBUTE, PRIM, RELATIONSHIP, VARIANT] = [1, 6, 8, 10];
const ASSET_PATH = 12;
const [BOOL, UCHAR, STRING, QUATD, QUATF, QUATH] = [1, 2, 10, 16, 17, 18];
const [VEC2D, VEC2H, VEC2I, VEC3D, VEC3I] = [19, 21, 22, 23, 26];
const [VEC4D, VEC4H, VEC4I, DICTIONARY, TOKEN_LIST, STRING_LIST] = [27, 29, 30, 31, 32, 33];
const [PATH_LIST, REFERENCE_LIST, PAYLOAD, PAYLOAD_LIST, STRING_VECTOR, LAYER_OFFSETS] = [34, 35, 47, 55, 50, 49];

/** Types that the parser itself knows; of all others it only says aloud that it does not. */
const SCALARS = new Set([
  0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 15, 16, 17, 19, 20, 22, 23, 24, 26, 27, 28, 40, 41, 45, 48,
]);
const ARRAYS = new Set([3, 4, 7, 8, 9, 11, 15, 17, 20, 24, 25, 28, 18]);

/** @throws Error where the file is damaged */
export function parseUsdc(bytes: Uint8Array): UsdLayer {
  const own = bytes.slice().buffer;
  return layerOf(new Crate().parseData(own).specsByPath);
}

/** Names that a crate uses; those of files that it refers to are among them. @throws Error where the file is damaged */
export function tokensOfCrate(bytes: Uint8Array): string[] {
  const crate = new CrateNames();
  crate.parseData(bytes.slice().buffer);
  return crate.tokens;
}

type Specs = Record<string, { specType: number; fields: Record<string, CrateValue> }>;

/** A value that is kept with what it means: the parser itself gives names of files and paths as plain strings. */
class Crate extends USDCParser {
  override _readBootstrap(): void {
    super._readBootstrap();
    const { major, minor } = this.version;
    if (major > 0 || minor < 4) throw new RangeError(`version ${major}.${minor} of the binary form is not read`);
  }

  /** Counts that lie would be believed: the tables are made as large as they say. */
  override _readTOC(): void {
    super._readTOC();
    const { reader, sections } = this;
    const size = this.buffer.byteLength;
    for (const name of ['TOKENS', 'STRINGS', 'FIELDS', 'FIELDSETS', 'PATHS', 'SPECS']) {
      const section = sections[name];
      if (!section) throw new RangeError(`the table ${name} is missing`);
      reader.seek(section.start);
      const count = reader.readUint64();
      if (count > size * MOST_ENTRIES) throw new RangeError(`${count} entries in the table ${name}`);
      if (name === 'TOKENS' && reader.readUint64() > size * MOST_UNPACKED)
        throw new RangeError('the table TOKENS unpacks to more than it can hold');
    }
  }

  /**
   * The tree of paths from its three lists. A jump is -2 for a leaf, -1 for a child only, 0 for a sibling only, and otherwise the
   * distance to the sibling, with a child next. Each entry is taken once, whatever the jumps say.
   */
  override _buildPathsFromCompressed(indices: Int32Array, elements: Int32Array, jumps: Int32Array): void {
    const taken = new Uint8Array(indices.length);
    const open: { at: number; parent: string }[] = [{ at: 0, parent: '' }];
    for (let entry = open.pop(); entry; entry = open.pop()) {
      const { at, parent } = entry;
      if (at < 0 || at >= indices.length || taken[at]) continue;
      taken[at] = 1;
      const token = this.tokens[Math.abs(elements[at])] ?? '';
      const path = parent === '' ? '/' : joined(parent, token, elements[at] < 0);
      if (path.length > MOST_LETTERS) throw new RangeError('paths are nested too deeply');
      this.paths[indices[at]] = path;
      const jump = jumps[at];
      if (jump >= 0) open.push({ at: at + (jump || 1), parent });
      if (jump > 0 || jump === -1) open.push({ at: at + 1, parent: path });
    }
  }

  override _readInlinedValue(rep: { typeEnum: number }): CrateValue {
    const value = super._readInlinedValue(rep);
    return rep.typeEnum === ASSET_PATH && typeof value === 'string' ? new UsdAsset(value) : value;
  }

  override _readScalarValue(type: number): CrateValue {
    const { reader } = this;
    switch (type) {
      case ASSET_PATH:
        return new UsdAsset(this.tokens[reader.readUint32()] ?? '');
      case DICTIONARY:
      case LAYER_OFFSETS:
        return null;
      case TOKEN_LIST:
        return this.#listEdit(() => this.tokens[reader.readUint32()] ?? '');
      case STRING_LIST:
        return this.#listEdit(() => this.#string());
      case PATH_LIST:
        return this.#listEdit(() => new UsdPath(this.paths[reader.readUint32()] ?? ''));
      case REFERENCE_LIST:
        return this.#listEdit(() => this.#arc(true));
      case PAYLOAD_LIST:
        return this.#listEdit(() => this.#arc(false));
      case PAYLOAD:
        return [this.#arc(false)];
      case STRING_VECTOR:
        return this.#list(() => this.#string());
      case QUATH:
        return realFirst(Array.from({ length: 4 }, () => this._readHalf()));
      case QUATF:
      case QUATD:
        return realFirst(super._readScalarValue(type) as number[]);
      case VEC4H:
        return Array.from({ length: 4 }, () => this._readHalf());
      case VEC4I:
        return Array.from({ length: 4 }, () => reader.readInt32());
      default:
        return SCALARS.has(type) ? super._readScalarValue(type) : null;
    }
  }

  override _readArrayValue(rep: { typeEnum: number }): CrateValue {
    const { reader } = this;
    const start = reader.tell();
    const { minor, major } = this.version;
    const size = major === 0 && minor < 7 ? reader.readUint32() : reader.readUint64();
    // A count that lies would fill the memory before the end of the file is noticed.
    if (size > this.buffer.byteLength * MOST_PACKED)
      throw new RangeError(`a list of ${size} values in a file of ${this.buffer.byteLength} bytes`);
    const fill = (values: Float32Array | Float64Array | Int32Array, read: () => number) => {
      if (values.length > this.buffer.byteLength) throw new RangeError('a list is longer than the file');
      for (let i = 0; i < values.length; i++) values[i] = read();
      return values;
    };
    switch (rep.typeEnum) {
      case VEC2D:
        return fill(new Float64Array(size * 2), () => reader.readFloat64());
      case VEC3D:
        return fill(new Float64Array(size * 3), () => reader.readFloat64());
      case QUATD:
        return realFirst(fill(new Float64Array(size * 4), () => reader.readFloat64()));
      case QUATF:
      case QUATH:
        reader.seek(start);
        return realFirst(super._readArrayValue(rep) as Float32Array);
      case VEC4D:
        return fill(new Float64Array(size * 4), () => reader.readFloat64());
      case VEC2H:
        return fill(new Float32Array(size * 2), () => this._readHalf());
      case VEC4H:
        return fill(new Float32Array(size * 4), () => this._readHalf());
      case VEC2I:
      case VEC3I:
      case VEC4I:
        return fill(new Int32Array(size * (rep.typeEnum === VEC2I ? 2 : rep.typeEnum === VEC3I ? 3 : 4)), () =>
          reader.readInt32(),
        );
      case BOOL:
      case UCHAR:
        return fill(new Int32Array(size), () => reader.readUint8());
      case STRING:
        return this.#items(size, () => this.#string());
      case ASSET_PATH:
        return this.#items(size, () => new UsdAsset(this.tokens[reader.readUint32()] ?? ''));
      default:
        reader.seek(start);
        return ARRAYS.has(rep.typeEnum) ? super._readArrayValue(rep) : [];
    }
  }

  #string(): string {
    return this.tokens[this.strings[this.reader.readUint32()]] ?? '';
  }

  #list<T extends CrateValue>(read: () => T): T[] {
    return this.#items(this.reader.readUint64(), read);
  }

  #items<T extends CrateValue>(count: number, read: () => T): T[] {
    if (count > this.buffer.byteLength) throw new RangeError(`a list of ${count} entries`);
    return Array.from({ length: count }, read);
  }

  /** What a list edit adds, strongest first; what it deletes or orders is passed over. */
  #listEdit<T extends CrateValue>(read: () => T): T[] {
    const flags = this.reader.readUint8();
    // In the order of the file: explicit, added, prepended, appended, deleted, ordered.
    const [explicit, added, prepended, appended] = [0x02, 0x04, 0x20, 0x40, 0x08, 0x10].map((bit) =>
      flags & bit ? this.#list(read) : [],
    );
    return [...prepended, ...explicit, ...added, ...appended];
  }

  /** A reference, or a payload: file, path, offset and scale of time, and what the maker of a reference adds. */
  #arc(isReference: boolean): UsdAsset | UsdPath {
    const { reader } = this;
    const file = this.#string();
    const path = this.paths[reader.readUint32()] ?? '';
    const { major, minor } = this.version;
    if (isReference || major > 0 || minor >= 8) {
      reader.readFloat64();
      reader.readFloat64();
    }
    if (isReference && reader.readUint64() > 0) throw new RangeError('a reference with data of its own');
    return file ? new UsdAsset(file, path || undefined) : new UsdPath(path);
  }
}

/** A crate of which only the table of names is wanted. */
class CrateNames extends Crate {
  override specs = [];
  override _readFields(): void {}
  override _readFieldSets(): void {}
  override _readPaths(): void {}
  override _readSpecs(): void {}
}

/** Quaternions have their real part last in a crate and first in a text: here always first. */
function realFirst<T extends number[] | Float32Array | Float64Array | Int32Array>(values: T): T {
  for (let i = 0; i + 3 < values.length; i += 4) {
    const real = values[i + 3];
    values.copyWithin(i + 1, i, i + 3);
    values[i] = real;
  }
  return values;
}

/** Letters of the longest path that is taken. */
const MOST_LETTERS = 20_000;

function joined(parent: string, token: string, isProperty: boolean): string {
  if (isProperty) return `${parent}.${token}`;
  // A variant stands in braces, and what is in it follows them without a slash.
  return parent === '/' || parent.endsWith('}') || token.startsWith('{') ? parent + token : `${parent}/${token}`;
}

function layerOf(specs: Specs): UsdLayer {
  const layer: UsdLayer = { subLayers: [], root: newPrim('', 'def') };
  const head = specs['/']?.fields ?? {};
  layer.upAxis = stringIn(head.upAxis as UsdValue);
  if (typeof head.timeCodesPerSecond === 'number') layer.timeCodesPerSecond = head.timeCodesPerSecond;
  if (typeof head.startTimeCode === 'number') layer.startTimeCode = head.startTimeCode;
  if (typeof head.metersPerUnit === 'number') layer.metresPerUnit = head.metersPerUnit;
  layer.defaultPrim = stringIn(head.defaultPrim as UsdValue);
  layer.documentation = stringIn(head.documentation as UsdValue);
  layer.subLayers = stringsIn(head.subLayers as UsdValue);
  const prims = new Map<string, UsdPrim>([['/', layer.root]]);
  const paths = Object.keys(specs);
  // Parents before children, whatever the order of the file.
  for (const path of paths.filter((path) => isPrim(specs[path].specType)).sort((a, b) => depthOf(a) - depthOf(b)))
    enterPrim(path, specs[path], prims);
  for (const path of paths) {
    const { specType, fields } = specs[path];
    if (specType !== ATTRIBUTE && specType !== RELATIONSHIP) continue;
    const dot = path.lastIndexOf('.');
    const prim = prims.get(path.slice(0, dot));
    if (prim && dot > 0) {
      const name = path.slice(dot + 1);
      prim.properties.set(name, propertyOf(name, fields, specType === RELATIONSHIP));
    }
  }
  for (const path of paths) order(prims.get(path), specs[path]?.fields.primChildren);
  return layer;
}

const isPrim = (specType: number) => specType === PRIM || specType === VARIANT;
const depthOf = (path: string) => path.split(/[/{]/).length;

function enterPrim(path: string, { fields }: Specs[string], prims: Map<string, UsdPrim>): void {
  if (path === '/') return;
  const choice = /^(.*)\{([^=}]+)=([^}]*)\}$/.exec(path);
  if (choice) {
    const owner = prims.get(choice[1]);
    if (owner && choice[3]) prims.set(path, filled(variantOf(owner, choice[2], choice[3]), fields));
    return;
  }
  // A child of a variant follows its brace without a slash.
  const cut = Math.max(path.lastIndexOf('/'), path.lastIndexOf('}'));
  const above = path[cut] === '}' ? path.slice(0, cut + 1) : path.slice(0, cut) || '/';
  const owner = prims.get(above);
  if (!owner) return;
  const specifier = (['def', 'over', 'class'] as const)[Number(fields.specifier ?? 1)] ?? 'over';
  const prim = filled(newPrim(path.slice(cut + 1), specifier, stringIn(fields.typeName as UsdValue) ?? ''), fields);
  owner.children.push(prim);
  prims.set(path, prim);
}

function filled(prim: UsdPrim, fields: Record<string, CrateValue>): UsdPrim {
  if (fields.active === false) prim.active = false;
  if (fields.instanceable === true) prim.instanceable = true;
  prim.displayName = stringIn(fields.displayName as UsdValue);
  prim.references = arcsIn(fields.references);
  prim.payloads = arcsIn(fields.payload);
  for (const field of ['inheritPaths', 'specializes'])
    for (const entry of listOf(fields[field])) if (entry instanceof UsdPath) prim.inherits.push(entry.path);
  const chosen = fields.variantSelection;
  if (chosen && typeof chosen === 'object')
    for (const [set, name] of Object.entries(chosen)) if (typeof name === 'string') prim.selections[set] = name;
  return prim;
}

function propertyOf(name: string, fields: Record<string, CrateValue>, isRelationship: boolean): UsdProperty {
  const samples = fields.timeSamples as { times: number[]; values: CrateValue[] } | undefined;
  const elementSize = Number(fields.elementSize);
  const property: UsdProperty = {
    type: isRelationship ? 'rel' : (stringIn(fields.typeName as UsdValue) ?? ''),
    samples: samples?.times?.length ?? 0,
    interpolation: stringIn(fields.interpolation as UsdValue),
    ...(elementSize > 0 ? { elementSize } : {}),
  };
  if (fields.default !== undefined && fields.default !== null) property.value = fields.default as UsdValue;
  if (samples && samples.values?.length > 0) property.first = samples.values[0] as UsdValue;
  const over = samples?.times && overTime(name, [...samples.times], samples.values as UsdValue[]);
  if (over) property.over = over;
  const [connection] = pathsOf(fields.connectionPaths);
  if (connection) property.connection = connection;
  if (isRelationship) property.targets = pathsOf(fields.targetPaths);
  return property;
}

function listOf(value: CrateValue | undefined): CrateValue[] {
  return Array.isArray(value) ? value : [];
}

function pathsOf(value: CrateValue | undefined): string[] {
  return listOf(value).flatMap((entry) =>
    entry instanceof UsdPath ? [entry.path] : typeof entry === 'string' ? [entry] : [],
  );
}

function arcsIn(value: CrateValue | undefined): UsdArc[] {
  return listOf(value).flatMap((entry): UsdArc[] => {
    if (entry instanceof UsdAsset) return [{ file: entry.file, ...(entry.path ? { path: entry.path } : {}) }];
    return entry instanceof UsdPath ? [entry.path ? { path: entry.path } : {}] : [];
  });
}

/** Children in the order that the file gives them, which need not be that of its table. */
function order(prim: UsdPrim | undefined, names: CrateValue | undefined): void {
  const list = stringsIn(names as UsdValue);
  if (!prim || list.length === 0) return;
  const place = new Map(list.map((name, i) => [name, i]));
  const at = ({ name }: UsdPrim) => place.get(name) ?? list.length;
  prim.children.sort((a, b) => at(a) - at(b));
}
