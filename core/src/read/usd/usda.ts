/** Parses the text form of USD into a layer. What cannot be parsed ends the reading there; what stands before is kept. */
import { PrismError } from '../../errors.ts';
import { NumberList } from '../../mesh/numberList.ts';
import { newPrim, numbersIn, overTime, pathsIn, stringIn, UsdAsset, UsdPath, variantOf } from './layer.ts';
import type { UsdArc, UsdDictionary, UsdLayer, UsdPrim, UsdProperty, UsdValue } from './layer.ts';

const MAX_DEPTH = 200;
const LIST_EDITS = new Set(['prepend', 'append', 'add', 'delete', 'reorder']);
const SPECIFIERS = new Set(['def', 'over', 'class']);

export interface ParsedLayer {
  layer: UsdLayer;
  /** Where and why the reading ended early. */
  broken?: { where: string; message: string };
}

/** @throws PrismError `not-readable` where the first line is not that of a USD text */
export function parseUsda(bytes: Uint8Array, name: string): ParsedLayer {
  const text = new TextDecoder().decode(bytes);
  if (!/^\s*#usda\b/.test(text.slice(0, 200)))
    throw new PrismError('not-readable', `${name} is no USD text: it does not begin with #usda.`, { file: name });
  const parser = new UsdaParser(text);
  try {
    parser.layer();
    return { layer: parser.result };
  } catch (error) {
    if (!(error instanceof Unexpected)) throw error;
    return { layer: parser.result, broken: { where: `line ${parser.lineOf(error.at)}`, message: error.message } };
  }
}

class Unexpected extends Error {
  constructor(
    message: string,
    readonly at: number,
  ) {
    super(message);
  }
}

class UsdaParser {
  readonly result: UsdLayer = { subLayers: [], root: newPrim('', 'def') };
  #at = 0;

  constructor(readonly text: string) {}

  lineOf(at: number): number {
    let line = 1;
    for (let i = 0; i < at && i < this.text.length; i++) if (this.text.charCodeAt(i) === 10) line++;
    return line;
  }

  layer(): void {
    this.#blank();
    if (this.#peek() === '(') this.#metadata((key, value) => this.#layerEntry(key, value));
    for (this.#blank(); this.#at < this.text.length; this.#blank()) {
      const word = this.#word();
      if (SPECIFIERS.has(word)) this.#prim(word as UsdPrim['specifier'], this.result.root, 0);
      else if (word === 'reorder') this.#statement();
      else this.#fail(`“${word || this.#peek()}” is not expected here`);
    }
  }

  #layerEntry(key: string, value: UsdValue): void {
    const { result } = this;
    if (key === 'upAxis') result.upAxis = stringIn(value);
    else if (key === 'timeCodesPerSecond' && typeof value === 'number') result.timeCodesPerSecond = value;
    else if (key === 'startTimeCode' && typeof value === 'number') result.startTimeCode = value;
    else if (key === 'metersPerUnit' && typeof value === 'number') result.metresPerUnit = value;
    else if (key === 'defaultPrim') result.defaultPrim = stringIn(value);
    else if (key === 'documentation' || key === 'doc' || key === '') result.documentation ??= stringIn(value);
    else if (key === 'subLayers')
      result.subLayers = (Array.isArray(value) ? value : [value]).flatMap((entry) =>
        entry instanceof UsdAsset ? [entry.file] : [],
      );
    else if (key === 'customLayerData' && value && typeof value === 'object' && 'creator' in value)
      result.creator = stringIn(value.creator as UsdValue);
  }

  #prim(specifier: UsdPrim['specifier'], parent: UsdPrim, depth: number): void {
    if (depth > MAX_DEPTH) this.#fail(`prims nest deeper than ${MAX_DEPTH}`);
    this.#blank();
    const type = this.#peek() === '"' ? '' : this.#word();
    this.#blank();
    const prim = newPrim(this.#string(), specifier, type);
    parent.children.push(prim);
    this.#blank();
    if (this.#peek() === '(') this.#metadata((key, value) => primEntry(prim, key, value));
    this.#blank();
    this.#expect('{');
    this.#contents(prim, depth);
  }

  /** What stands between the braces of a prim or a variant, and the closing brace. */
  #contents(prim: UsdPrim, depth: number): void {
    for (;;) {
      this.#blank();
      const next = this.#peek();
      if (next === '') this.#fail(`“${prim.name}” is not closed`);
      if (next === '}') {
        this.#at++;
        return;
      }
      if (next === ';') {
        this.#at++;
        continue;
      }
      const start = this.#at;
      const word = this.#word();
      if (SPECIFIERS.has(word)) this.#prim(word as UsdPrim['specifier'], prim, depth + 1);
      else if (word === 'variantSet') this.#variantSet(prim, depth);
      else if (word === 'reorder' && /^\s*(nameChildren|properties)\b/.test(this.text.slice(this.#at, this.#at + 40)))
        this.#statement();
      else {
        this.#at = start;
        this.#property(prim);
      }
    }
  }

  #variantSet(prim: UsdPrim, depth: number): void {
    if (depth > MAX_DEPTH) this.#fail(`variants nest deeper than ${MAX_DEPTH}`);
    this.#blank();
    const set = this.#string();
    this.#blank();
    this.#expect('=');
    this.#blank();
    this.#expect('{');
    for (this.#blank(); this.#peek() !== '}'; this.#blank()) {
      const variant = variantOf(prim, set, this.#string());
      this.#blank();
      if (this.#peek() === '(') this.#metadata((key, value) => primEntry(variant, key, value));
      this.#blank();
      this.#expect('{');
      this.#contents(variant, depth + 1);
    }
    this.#at++;
  }

  /** `custom uniform token[] name = value (metadata)`, a relationship, a connection or samples over time. */
  #property(prim: UsdPrim): void {
    let edit = '';
    let type = this.#word();
    while (['custom', 'uniform', 'varying', 'config'].includes(type) || LIST_EDITS.has(type)) {
      if (LIST_EDITS.has(type)) edit = type;
      this.#blank();
      type = this.#word();
    }
    if (!type) this.#fail(`“${this.#peek()}” is not expected here`);
    if (this.text.startsWith('[]', this.#at)) {
      this.#at += 2;
      type += '[]';
    }
    this.#blank();
    const written = this.#word();
    if (!written) this.#fail('a property has no name');
    const [name, field] = written.endsWith('.timeSamples')
      ? [written.slice(0, -12), 'timeSamples']
      : written.endsWith('.connect')
        ? [written.slice(0, -8), 'connect']
        : [written, ''];
    const property: UsdProperty = prim.properties.get(name) ?? { type, samples: 0 };
    if (!field) property.type = type;
    this.#blank();
    if (this.#peek() === '=') {
      this.#at++;
      this.#blank();
      if (field === 'timeSamples') this.#samples(name, property);
      else {
        const value = this.#value(0);
        if (edit === 'delete' || edit === 'reorder') return this.#skipMetadata();
        if (field === 'connect') property.connection = pathsIn(value)[0];
        else if (type === 'rel') property.targets = [...(edit ? (property.targets ?? []) : []), ...pathsIn(value)];
        else property.value = value;
      }
    } else if (type === 'rel') property.targets ??= [];
    this.#blank();
    if (this.#peek() === '(')
      this.#metadata((key, value) => {
        if (key === 'interpolation') property.interpolation = stringIn(value);
        else if (key === 'elementSize' && typeof value === 'number') property.elementSize = value;
      });
    prim.properties.set(name, property);
  }

  #skipMetadata(): void {
    this.#blank();
    if (this.#peek() === '(') this.#metadata(() => {});
  }

  #samples(name: string, property: UsdProperty): void {
    this.#expect('{');
    let earliest = Infinity;
    const times: number[] = [];
    const values: UsdValue[] = [];
    for (this.#blank(); this.#peek() !== '}'; this.#blank()) {
      const time = this.#value(0);
      this.#blank();
      this.#expect(':');
      this.#blank();
      const value = this.#value(0);
      property.samples++;
      if (typeof time === 'number' && name.startsWith('xformOp:')) {
        times.push(time);
        values.push(value);
      }
      if (typeof time === 'number' && time < earliest) {
        earliest = time;
        property.first = value;
      }
      this.#blank();
      if (this.#peek() === ',') this.#at++;
    }
    this.#at++;
    const over = overTime(name, times, values);
    if (over) property.over = over;
  }

  /** `( "comment" key = value … )`; list edits are told by the key alone. */
  #metadata(entry: (key: string, value: UsdValue) => void): void {
    this.#expect('(');
    for (;;) {
      this.#blank();
      const next = this.#peek();
      if (next === '') this.#fail('a round bracket is not closed');
      if (next === ')') {
        this.#at++;
        return;
      }
      if (next === ';' || next === ',') this.#at++;
      else if (next === '"' || next === "'") entry('', this.#string());
      else {
        let key = this.#word();
        let edit = '';
        if (LIST_EDITS.has(key)) {
          edit = key;
          this.#blank();
          key = this.#word();
        }
        if (!key) this.#fail(`“${next}” is not expected here`);
        this.#blank();
        this.#expect('=');
        this.#blank();
        const value = this.#value(0);
        this.#offset(value);
        if (edit !== 'delete' && edit !== 'reorder') entry(key, value);
      }
    }
  }

  #value(depth: number): UsdValue {
    if (depth > MAX_DEPTH) this.#fail(`values nest deeper than ${MAX_DEPTH}`);
    const next = this.#peek();
    if (next === '[' || next === '(') return this.#list(next === '[' ? ']' : ')', depth);
    if (next === '"' || next === "'") return this.#string();
    if (next === '@') return this.#asset();
    if (next === '<') return new UsdPath(this.#until('<', '>'));
    if (next === '{') return this.#dictionary(depth);
    const start = this.#at;
    const number = this.#number();
    if (number !== undefined) return number;
    this.#at = start;
    const word = this.#word();
    if (word === 'true' || word === 'false') return word === 'true';
    if (word === 'None' || word === 'AnimationBlock') return null;
    if (word === 'inf') return Infinity;
    if (word === 'nan') return NaN;
    if (!word) this.#fail(next === '' ? 'the text ends in the middle of a value' : `“${next}” is not a value`);
    return word;
  }

  /** Lists and tuples; those of numbers become one flat list, however they nest. */
  #list(end: string, depth: number): UsdValue {
    const numbers = new NumberList(Float64Array, 16);
    const others: UsdValue[] = [];
    this.#at++;
    for (;;) {
      this.#blank();
      const next = this.#peek();
      if (next === end) break;
      if (next === '') this.#fail('a list is not closed');
      if (next === ',') {
        this.#at++;
        continue;
      }
      // Most of a file are the numbers of its meshes: they do not take the long way.
      if (next === '(' && this.#tuple(numbers)) continue;
      const start = this.#at;
      const number = this.#number();
      if (number !== undefined) {
        numbers.push(number);
        continue;
      }
      this.#at = start;
      const value = this.#value(depth + 1);
      const flat = value !== null && typeof value === 'object' ? numbersIn(value) : [];
      if (flat.length > 0) for (const entry of flat) numbers.push(entry);
      else if (value === Infinity || Number.isNaN(value)) numbers.push(value as number);
      else others.push(value);
      this.#offset(value);
    }
    this.#at++;
    return others.length > 0 ? others : numbers.values.slice();
  }

  /** A reference may be followed by offsets of its time, which say nothing here. */
  #offset(value: UsdValue): void {
    if (!(value instanceof UsdAsset || value instanceof UsdPath)) return;
    this.#blank();
    if (this.#peek() === '(') this.#metadata(() => {});
  }

  #tuple(numbers: NumberList<Float64Array>): boolean {
    const start = this.#at;
    const before = numbers.length;
    this.#at++;
    for (;;) {
      this.#blank();
      const next = this.#peek();
      if (next === ')') {
        this.#at++;
        return true;
      }
      if (next === ',') {
        this.#at++;
        continue;
      }
      const number = this.#number();
      if (number === undefined) {
        this.#at = start;
        numbers.length = before;
        return false;
      }
      numbers.push(number);
    }
  }

  #dictionary(depth: number): UsdDictionary {
    const out: UsdDictionary = Object.create(null) as UsdDictionary;
    this.#at++;
    for (;;) {
      this.#blank();
      const next = this.#peek();
      if (next === '}') break;
      if (next === ';' || next === ',') {
        this.#at++;
        continue;
      }
      if (next === '') this.#fail('a dictionary is not closed');
      this.#word();
      if (this.text.startsWith('[]', this.#at)) this.#at += 2;
      this.#blank();
      const key = this.#peek() === '"' || this.#peek() === "'" ? this.#string() : this.#word();
      this.#blank();
      this.#expect('=');
      this.#blank();
      out[key] = this.#value(depth + 1);
    }
    this.#at++;
    return out;
  }

  #number(): number | undefined {
    NUMBER.lastIndex = this.#at;
    const found = NUMBER.exec(this.text);
    if (!found) return undefined;
    this.#at += found[0].length;
    return found[0].endsWith('inf') ? Number(`${found[0]}inity`.replace('inf', 'Inf')) : Number(found[0]);
  }

  #word(): string {
    WORD.lastIndex = this.#at;
    const found = WORD.exec(this.text);
    if (!found) return '';
    this.#at += found[0].length;
    return found[0];
  }

  #string(): string {
    const quote = this.#peek();
    if (quote !== '"' && quote !== "'") this.#fail('a name in quotes is expected');
    const long = quote.repeat(3);
    if (this.text.startsWith(long, this.#at)) return this.#until(long, long);
    const start = ++this.#at;
    for (; this.#at < this.text.length; this.#at++) {
      const letter = this.text[this.#at];
      if (letter === '\\') this.#at++;
      else if (letter === quote || letter === '\n') break;
    }
    if (this.#peek() !== quote) this.#fail('a text in quotes is not closed');
    const raw = this.text.slice(start, this.#at++);
    return raw.includes('\\') ? raw.replace(/\\(.)/g, (_, letter: string) => ESCAPES[letter] ?? letter) : raw;
  }

  #asset(): UsdAsset {
    const mark = this.text.startsWith('@@@', this.#at) ? '@@@' : '@';
    const file = this.#until(mark, mark);
    this.#blank();
    return this.#peek() === '<' ? new UsdAsset(file, this.#until('<', '>')) : new UsdAsset(file);
  }

  #until(open: string, close: string): string {
    const end = this.text.indexOf(close, this.#at + open.length);
    if (end < 0) this.#fail(`${open} is not closed`);
    const inside = this.text.slice(this.#at + open.length, end);
    this.#at = end + close.length;
    return inside;
  }

  /** Over a statement that says nothing here: an order of names. */
  #statement(): void {
    const end = this.text.indexOf(']', this.#at);
    if (end < 0) this.#fail('a list is not closed');
    this.#at = end + 1;
  }

  #blank(): void {
    for (; this.#at < this.text.length; this.#at++) {
      const code = this.text.charCodeAt(this.#at);
      if (code === 35) {
        const end = this.text.indexOf('\n', this.#at);
        this.#at = end < 0 ? this.text.length : end;
      } else if (code > 32) return;
    }
  }

  #peek(): string {
    return this.text[this.#at] ?? '';
  }

  #expect(letter: string): void {
    if (this.#peek() !== letter) this.#fail(`“${letter}” is missing`);
    this.#at++;
  }

  #fail(message: string): never {
    throw new Unexpected(message, this.#at);
  }
}

const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?|[-+]inf\b/y;
/** Names of types, properties with their spaces and fields, and plain words. */
const WORD = /[A-Za-z_!\u0080-\uffff][\w:.\u0080-\uffff!|-]*/y;
const ESCAPES: Record<string, string> = { n: '\n', t: '\t', r: '\r' };

function primEntry(prim: UsdPrim, key: string, value: UsdValue): void {
  switch (key) {
    case 'active':
      prim.active = value !== false;
      break;
    case 'instanceable':
      prim.instanceable = value === true;
      break;
    case 'displayName':
      prim.displayName = stringIn(value);
      break;
    case 'references':
      prim.references.push(...arcsIn(value));
      break;
    case 'payload':
      prim.payloads.push(...arcsIn(value));
      break;
    case 'inherits':
    case 'specializes':
      prim.inherits.push(...pathsIn(value));
      break;
    case 'variants':
      if (value && typeof value === 'object' && !Array.isArray(value))
        for (const [set, name] of Object.entries(value)) if (typeof name === 'string') prim.selections[set] = name;
  }
}

function arcsIn(value: UsdValue): UsdArc[] {
  return (Array.isArray(value) ? value : [value]).flatMap((entry): UsdArc[] => {
    if (entry instanceof UsdAsset) return [{ file: entry.file, ...(entry.path ? { path: entry.path } : {}) }];
    return entry instanceof UsdPath ? [{ path: entry.path }] : [];
  });
}
