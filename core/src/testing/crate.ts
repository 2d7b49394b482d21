/** Writes a layer of USD in its binary form, version 0.8: enough of it for tests of the reader. */
import { UsdAsset } from '../read/usd/layer.ts';
import type { UsdLayer, UsdPrim, UsdProperty, UsdValue } from '../read/usd/layer.ts';

const TYPES: Record<string, number> = {
  bool: 1, int: 3, float: 8, double: 9, string: 10, token: 11, asset: 12, matrix4d: 15, quatf: 17,
  float2: 20, texCoord2f: 20, double3: 23, float3: 24, point3f: 24, normal3f: 24, color3f: 24, vector3f: 24,
}; // prettier-ignore
const [TOKEN, PATH_LIST, REFERENCE_LIST, TOKEN_VECTOR, SPECIFIER, VARIABILITY] = [11, 34, 35, 41, 42, 44];
const [ARRAY, INLINED] = [1n << 63n, 1n << 62n];

/** Attributes that may not change over time. */
const UNIFORM = new Set([
  'xformOpOrder',
  'info:id',
  'orientation',
  'subdivisionScheme',
  'axis',
  'purpose',
  'type',
  'elementType',
]);

interface Spec {
  path: number;
  type: number;
  fields: [name: string, rep: bigint][];
}

export function crateOf(layer: UsdLayer): Uint8Array {
  return new CrateWriter(layer).bytes();
}

class Bytes {
  readonly list: number[] = [];
  raw(values: Iterable<number>): this {
    for (const value of values) this.list.push(value & 255);
    return this;
  }
  number(size: number, set: (view: DataView) => void): this {
    const view = new DataView(new ArrayBuffer(size));
    set(view);
    return this.raw(new Uint8Array(view.buffer));
  }
  u32 = (value: number) => this.number(4, (view) => view.setUint32(0, value >>> 0, true));
  i32 = (value: number) => this.number(4, (view) => view.setInt32(0, value, true));
  u64 = (value: number | bigint) => this.number(8, (view) => view.setBigUint64(0, BigInt(value), true));
  f32 = (value: number) => this.number(4, (view) => view.setFloat32(0, value, true));
  f64 = (value: number) => this.number(8, (view) => view.setFloat64(0, value, true));
}

class CrateWriter {
  readonly #out = new Bytes();
  readonly #tokens: string[] = [];
  readonly #strings: number[] = [];
  readonly #specs: Spec[] = [];
  /** Index, token (negative for a property) and jump of each path, in the order of the tree. */
  readonly #paths: { token: number; jump: number }[] = [];
  readonly #numbers = new Map<string, number>();

  constructor(readonly layer: UsdLayer) {
    this.#token('');
  }

  bytes(): Uint8Array {
    const out = this.#out;
    out
      .raw(new TextEncoder().encode('PXR-USDC'))
      .raw([0, 8, 0, 0, 0, 0, 0, 0])
      .u64(0)
      .raw(new Array<number>(64).fill(0));
    this.#walk(this.layer.root, '/', false);
    this.#specsOf(this.layer.root, '/');
    const sections: [string, number, number][] = [];
    const section = (name: string, fill: () => void) => {
      const start = out.list.length;
      fill();
      sections.push([name, start, out.list.length - start]);
    };
    const fieldSets: number[] = [];
    const fields: [number, bigint][] = [];
    const starts = this.#specs.map((spec) => {
      const start = fieldSets.length;
      for (const [name, rep] of spec.fields) fieldSets.push(fields.push([this.#token(name), rep]) - 1);
      fieldSets.push(-1);
      return start;
    });
    section('TOKENS', () => {
      const text = new TextEncoder().encode(this.#tokens.map((token) => `${token}\0`).join(''));
      const packed = lz4(text);
      out.u64(this.#tokens.length).u64(text.length).u64(packed.length).raw(packed);
    });
    section('STRINGS', () => {
      out.u64(this.#strings.length);
      for (const string of this.#strings) out.u32(string);
    });
    section('FIELDS', () => {
      out.u64(fields.length);
      this.#integers(fields.map(([token]) => token));
      const reps = new Bytes();
      for (const [, rep] of fields) reps.u64(rep);
      const packed = lz4(reps.list);
      out.u64(packed.length).raw(packed);
    });
    section('FIELDSETS', () => {
      out.u64(fieldSets.length);
      this.#integers(fieldSets);
    });
    section('PATHS', () => {
      out.u64(this.#paths.length).u64(this.#paths.length);
      this.#integers(this.#paths.map((_, i) => i));
      this.#integers(this.#paths.map(({ token }) => token));
      this.#integers(this.#paths.map(({ jump }) => jump));
    });
    section('SPECS', () => {
      out.u64(this.#specs.length);
      this.#integers(this.#specs.map(({ path }) => path));
      this.#integers(starts);
      this.#integers(this.#specs.map(({ type }) => type));
    });
    const contents = out.list.length;
    out.u64(sections.length);
    for (const [name, start, size] of sections) {
      const padded = new Uint8Array(16);
      new TextEncoder().encodeInto(name, padded);
      out.raw(padded).u64(start).u64(size);
    }
    const bytes = Uint8Array.from(out.list);
    new DataView(bytes.buffer).setBigUint64(16, BigInt(contents), true);
    return bytes;
  }

  /** Enters a prim, its properties and what is below it; returns nothing, the jumps are set on the way. */
  #walk(prim: UsdPrim, path: string, hasSibling: boolean): void {
    const below = [
      ...[...prim.properties.keys()].map((name) => ({ name, prim: undefined })),
      ...prim.children.map((child) => ({ name: child.name, prim: child })),
    ];
    const entry = { token: path === '/' ? 0 : this.#token(path.slice(path.lastIndexOf('/') + 1)), jump: 0 };
    const at = this.#paths.push(entry) - 1;
    this.#numbers.set(path, at);
    below.forEach(({ name, prim: child }, i) => {
      const isLast = i === below.length - 1;
      if (child) this.#walk(child, path === '/' ? `/${name}` : `${path}/${name}`, !isLast);
      else {
        this.#numbers.set(`${path}.${name}`, this.#paths.length);
        this.#paths.push({ token: -this.#token(name), jump: isLast ? -2 : 0 });
      }
    });
    const size = this.#paths.length - at;
    entry.jump = below.length > 0 ? (hasSibling ? size : -1) : hasSibling ? 0 : -2;
  }

  #specsOf(prim: UsdPrim, path: string): void {
    const isRoot = path === '/';
    const fields: Spec['fields'] = [];
    if (isRoot) {
      const { upAxis, metresPerUnit, defaultPrim } = this.layer;
      if (upAxis) fields.push(['upAxis', this.#inlinedToken(upAxis)]);
      if (metresPerUnit !== undefined) fields.push(['metersPerUnit', this.#value('double', metresPerUnit)]);
      if (defaultPrim) fields.push(['defaultPrim', this.#inlinedToken(defaultPrim)]);
    } else {
      fields.push(['specifier', rep(SPECIFIER, ['def', 'over', 'class'].indexOf(prim.specifier), INLINED)]);
      if (prim.type) fields.push(['typeName', this.#inlinedToken(prim.type)]);
      if (prim.displayName) fields.push(['displayName', this.#value('string', prim.displayName)]);
      if (prim.references.length > 0) fields.push(['references', this.#references(prim)]);
      if (prim.inherits.length > 0) fields.push(['inheritPaths', this.#pathList(prim.inherits)]);
      if (prim.properties.size > 0) fields.push(['properties', this.#tokenVector([...prim.properties.keys()])]);
    }
    if (prim.children.length > 0)
      fields.push(['primChildren', this.#tokenVector(prim.children.map(({ name }) => name))]);
    // 7 is the pseudo-root, 6 a prim.
    this.#specs.push({ path: this.#numbers.get(path) ?? 0, type: isRoot ? 7 : 6, fields });
    for (const [name, property] of prim.properties) this.#property(`${path}.${name}`, property);
    for (const child of prim.children) this.#specsOf(child, isRoot ? `/${child.name}` : `${path}/${child.name}`);
  }

  #property(path: string, property: UsdProperty): void {
    const { type, value, connection, targets, interpolation } = property;
    const fields: Spec['fields'] = [];
    const isRelationship = type === 'rel';
    if (isRelationship) {
      fields.push(['variability', rep(VARIABILITY, 1, INLINED)]);
      fields.push(['targetPaths', this.#pathList(targets ?? [])]);
    } else {
      fields.push(['typeName', this.#inlinedToken(type)]);
      if (UNIFORM.has(path.slice(path.indexOf('.') + 1))) fields.push(['variability', rep(VARIABILITY, 1, INLINED)]);
      if (value !== undefined) fields.push(['default', this.#value(type, value)]);
      if (connection) fields.push(['connectionPaths', this.#pathList([connection])]);
      if (interpolation) fields.push(['interpolation', this.#inlinedToken(interpolation)]);
    }
    this.#specs.push({ path: this.#numbers.get(path) ?? 0, type: isRelationship ? 8 : 1, fields });
  }

  #value(type: string, value: UsdValue): bigint {
    const base = type.replace('[]', '');
    const code = TYPES[base];
    if (code === undefined) throw new Error(`The writer of crates does not know ${type}.`);
    const list = ArrayBuffer.isView(value) || Array.isArray(value) ? [...(value as Iterable<UsdValue>)] : [value];
    const write = (entry: UsdValue) => {
      if (base === 'token') this.#out.u32(this.#token(entry as string));
      else if (base === 'string') this.#out.u32(this.#string(entry as string));
      else if (base === 'asset') this.#out.u32(this.#token((entry as UsdAsset).file));
      else if (base === 'int') this.#out.i32(entry as number);
      else if (/^(double|matrix)/.test(base)) this.#out.f64(entry as number);
      else this.#out.f32(entry as number);
    };
    if (base === 'bool') return rep(code, value ? 1 : 0, INLINED);
    if (type === 'int') return rep(code, (value as number) >>> 0, INLINED);
    if (type === 'float') return rep(code, new Uint32Array(Float32Array.of(value as number).buffer)[0], INLINED);
    if (!type.endsWith('[]') && ['token', 'string', 'asset'].includes(base))
      return rep(
        code,
        base === 'string'
          ? this.#string(value as string)
          : this.#token(value instanceof UsdAsset ? value.file : (value as string)),
        INLINED,
      );
    const at = this.#out.list.length;
    if (type.endsWith('[]')) {
      const width = { float2: 2, texCoord2f: 2, quatf: 4 }[base] ?? (/3/.test(base) ? 3 : 1);
      this.#out.u64(list.length / width);
    }
    // The real part stands first in a text and last in a crate.
    const ordered = base === 'quatf' ? [...list.slice(1), list[0]] : list;
    for (const entry of ordered) write(entry);
    return rep(code, at, type.endsWith('[]') ? ARRAY : 0n);
  }

  #pathList(paths: readonly string[]): bigint {
    const at = this.#out.list.length;
    this.#out.raw([0x03]).u64(paths.length);
    for (const path of paths) this.#out.u32(this.#numbers.get(path) ?? 0);
    return rep(PATH_LIST, at);
  }

  #references({ references }: UsdPrim): bigint {
    const at = this.#out.list.length;
    this.#out.raw([0x03]).u64(references.length);
    for (const { file = '', path = '/' } of references)
      this.#out
        .u32(this.#string(file))
        .u32(this.#numbers.get(path) ?? 0)
        .f64(0)
        .f64(1)
        .u64(0);
    return rep(REFERENCE_LIST, at);
  }

  #tokenVector(names: readonly string[]): bigint {
    const at = this.#out.list.length;
    this.#out.u64(names.length);
    for (const name of names) this.#out.u32(this.#token(name));
    return rep(TOKEN_VECTOR, at);
  }

  #inlinedToken(token: string): bigint {
    return rep(TOKEN, this.#token(token), INLINED);
  }

  #token(token: string): number {
    const known = this.#tokens.indexOf(token);
    return known >= 0 ? known : this.#tokens.push(token) - 1;
  }

  #string(text: string): number {
    return this.#strings.push(this.#token(text)) - 1;
  }

  /** Whole numbers as differences, all in the widest code, packed. */
  #integers(values: readonly number[]): void {
    const raw = new Bytes().i32(0).raw(new Array<number>(Math.ceil(values.length / 4)).fill(0xff));
    let before = 0;
    for (const value of values) {
      raw.i32(value - before);
      before = value;
    }
    const packed = lz4(raw.list);
    this.#out.u64(packed.length).raw(packed);
  }
}

function rep(type: number, payload: number, flags = 0n): bigint {
  return flags | (BigInt(type) << 48n) | BigInt(payload);
}

/** One block of LZ4 that is nothing but literals, in one chunk. */
function lz4(bytes: ArrayLike<number>): number[] {
  const out = [0];
  const { length } = bytes;
  out.push(Math.min(15, length) << 4);
  if (length >= 15) {
    let rest = length - 15;
    for (; rest >= 255; rest -= 255) out.push(255);
    out.push(rest);
  }
  for (let i = 0; i < length; i++) out.push(bytes[i]);
  return out;
}
