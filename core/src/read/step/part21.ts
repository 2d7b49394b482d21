/**
 * Scans the clear text of a STEP file (ISO 10303-21) into an index of entities: where each stands, its type, and what it
 * refers to. Parameters are parsed only when asked for, so that the scan stays fast on files of any size.
 */
import { REPORTED_EVERY } from '../scanner.ts';
import { PrismError } from '../../errors.ts';
import type { Warning } from '../../errors.ts';
import { decodeString } from './strings.ts';

/** A reference to another entity, `#12`. */
export class Ref {
  constructor(readonly id: number) {}
}
/** An enumeration value, `.MILLI.` without its points. */
export class Enumeration {
  constructor(readonly name: string) {}
}
/** A value with its type named, `LENGTH_MEASURE(25.4)`. */
export class Typed {
  constructor(
    readonly type: string,
    readonly args: Value[],
  ) {}
}
/** One parameter. `null` stands for `$` (unset) and for `*` (derived). */
export type Value = number | string | null | Ref | Enumeration | Typed | Value[];

/** Deepest nesting of parentheses that is parsed; real files stay below ten. */
const MAX_DEPTH = 100;

const HASH = 35;
const QUOTE = 39;
const OPEN = 40;
const CLOSE = 41;
const STAR = 42;
const SLASH = 47;
const SEMICOLON = 59;
const EQUALS = 61;

const isDigit = (c: number) => c >= 48 && c <= 57;
const isUpper = (c: number) => (c >= 65 && c <= 90) || c === 95;
const isKeyword = (c: number) => isUpper(c) || isDigit(c) || (c >= 97 && c <= 122) || c === 45;
const isSpace = (c: number) => c === 32 || (c >= 9 && c <= 13);

class IntList {
  data: Int32Array;
  length = 0;
  constructor(capacity: number) {
    this.data = new Int32Array(Math.max(16, capacity));
  }
  push(value: number): void {
    if (this.length === this.data.length) {
      const next = new Int32Array(this.data.length * 2);
      next.set(this.data);
      this.data = next;
    }
    this.data[this.length++] = value;
  }
}

/** Bytes that the scan has to look at, by value; in a complex instance the names of its parts as well. */
const SPECIAL = new Uint8Array(256);
for (const byte of [HASH, QUOTE, OPEN, CLOSE, SEMICOLON, SLASH]) SPECIAL[byte] = 1;
const SPECIAL_IN_COMPLEX = SPECIAL.slice();
for (let byte = 0; byte < 256; byte++) if (isUpper(byte)) SPECIAL_IN_COMPLEX[byte] = 1;

/** What the HEADER section says. */
export interface Part21Header {
  description: string;
  fileName: string;
  timeStamp: string;
  author: string;
  /** Preprocessor and originating system, as written. */
  producer: string;
  schema: string;
}

/** Index of the entities of one file. Indices are positions in file order, ids are the numbers behind `#`. */
export class Part21 {
  readonly warnings: Warning[] = [];
  /** Type names by type number; a complex instance has the names of its parts joined by `+`. */
  readonly typeNames: string[] = [];
  readonly #typeNumbers = new Map<string, number>();
  readonly #byType = new Map<string, number[]>();
  #indexOfId: Int32Array | Map<number, number> = new Map();

  constructor(
    readonly bytes: Uint8Array,
    readonly ids: Int32Array,
    readonly starts: Float64Array,
    readonly ends: Float64Array,
    readonly types: Int32Array,
    /** `refs[refStarts[i] .. refStarts[i+1]]` are the ids that entity i refers to, in the order of the text. */
    readonly refStarts: Int32Array,
    readonly refs: Int32Array,
    typeNames: string[],
    readonly header: Part21Header,
  ) {
    this.typeNames = typeNames;
    typeNames.forEach((name, number) => this.#typeNumbers.set(name, number));
    this.#buildIndex();
  }

  get count(): number {
    return this.ids.length;
  }

  #buildIndex(): void {
    let max = 0;
    for (const id of this.ids) if (id > max) max = id;
    if (max < 4 * this.count + 1_000_000) {
      const dense = new Int32Array(max + 1).fill(-1);
      for (let i = 0; i < this.count; i++) dense[this.ids[i]] = i;
      this.#indexOfId = dense;
    } else {
      this.#indexOfId = new Map(Array.from(this.ids, (id, i) => [id, i]));
    }
    const buckets: number[][] = this.typeNames.map(() => []);
    for (let i = 0; i < this.count; i++) buckets[this.types[i]].push(i);
    this.typeNames.forEach((name, number) => {
      for (const member of new Set(name.split('+'))) {
        const list = this.#byType.get(member);
        if (list) list.push(...takeAll(buckets[number]));
        else this.#byType.set(member, buckets[number].slice());
      }
    });
  }

  /** Index of an id, or -1 where the file does not define it. */
  indexOf(id: number): number {
    if (this.#indexOfId instanceof Map) return this.#indexOfId.get(id) ?? -1;
    return id >= 0 && id < this.#indexOfId.length ? this.#indexOfId[id] : -1;
  }

  /** Indices of all entities of a type, complex instances that contain it included. */
  ofType(name: string): readonly number[] {
    return this.#byType.get(name) ?? [];
  }

  typeOf(index: number): string {
    return this.typeNames[this.types[index]];
  }

  /** True if the entity is of the type, or a complex instance with that part. */
  is(index: number, name: string): boolean {
    const type = this.typeNames[this.types[index]];
    return type === name || (type.includes('+') && type.split('+').includes(name));
  }

  /** Parameters of an entity; of a complex instance those of the part named. Errors: malformed text. */
  args(index: number, part?: string): Value[] {
    const parser = new ValueParser(this.bytes, this.starts[index], this.ends[index], `#${this.ids[index]}`);
    if (!this.typeNames[this.types[index]].includes('+') && this.bytes[parser.skip()] !== OPEN)
      return parser.record().args;
    for (const record of parser.complex()) if (!part || record.type === part) return record.args;
    return [];
  }

  /** Line of the text that an entity starts on, counted from 1. */
  lineOf(index: number): number {
    let line = 1;
    for (let i = 0; i < this.starts[index]; i++) if (this.bytes[i] === 10) line++;
    return line;
  }

  /** `#12, line 40`: how an entity is named to people. */
  where(index: number): string {
    return `#${this.ids[index]}, line ${this.lineOf(index)}`;
  }
}

function* takeAll(list: number[]): Iterable<number> {
  yield* list;
}

/** Recursive descent over the parameters of one entity. */
class ValueParser {
  #at: number;
  constructor(
    readonly bytes: Uint8Array,
    start: number,
    readonly end: number,
    readonly where: string,
  ) {
    this.#at = start;
  }

  /** Moves over spaces and comments; returns the position of the next character. */
  skip(): number {
    const { bytes, end } = this;
    while (this.#at < end) {
      const c = bytes[this.#at];
      if (isSpace(c)) this.#at++;
      else if (c === SLASH && bytes[this.#at + 1] === STAR) {
        this.#at += 2;
        while (this.#at < end && !(bytes[this.#at] === STAR && bytes[this.#at + 1] === SLASH)) this.#at++;
        this.#at += 2;
      } else break;
    }
    return this.#at;
  }

  record(): Typed {
    const start = this.skip();
    while (this.#at < this.end && isKeyword(this.bytes[this.#at])) this.#at++;
    const type = latin1(this.bytes, start, this.#at).toUpperCase();
    this.skip();
    if (this.bytes[this.#at] !== OPEN) this.#fail();
    return new Typed(type, this.#list(0));
  }

  *complex(): Iterable<Typed> {
    this.skip();
    this.#at++;
    while (this.skip() < this.end && this.bytes[this.#at] !== CLOSE) yield this.record();
  }

  #list(depth: number): Value[] {
    if (depth > MAX_DEPTH) this.#fail('nested too deeply');
    const out: Value[] = [];
    this.#at++;
    for (;;) {
      this.skip();
      if (this.#at >= this.end) this.#fail();
      const c = this.bytes[this.#at];
      if (c === CLOSE) {
        this.#at++;
        return out;
      }
      if (c === 44) {
        this.#at++;
        continue;
      }
      out.push(this.#value(c, depth));
    }
  }

  #value(c: number, depth: number): Value {
    const { bytes } = this;
    if (c === HASH) {
      let id = 0;
      while (isDigit(bytes[++this.#at])) id = id * 10 + bytes[this.#at] - 48;
      return new Ref(id);
    }
    if (c === QUOTE) {
      const start = ++this.#at;
      while (this.#at < this.end && !(bytes[this.#at] === QUOTE && bytes[this.#at + 1] !== QUOTE)) {
        this.#at += bytes[this.#at] === QUOTE ? 2 : 1;
      }
      return decodeString(bytes.subarray(start, this.#at++));
    }
    if (c === OPEN) return this.#list(depth + 1);
    if (c === 36 || c === STAR) {
      this.#at++;
      return null;
    }
    if (c === 46) {
      const start = ++this.#at;
      while (this.#at < this.end && bytes[this.#at] !== 46) this.#at++;
      return new Enumeration(latin1(bytes, start, this.#at++));
    }
    if (c === 34) {
      const start = ++this.#at;
      while (this.#at < this.end && bytes[this.#at] !== 34) this.#at++;
      return latin1(bytes, start, this.#at++);
    }
    const start = this.#at;
    if (isUpper(c) || (c >= 97 && c <= 122)) {
      while (this.#at < this.end && isKeyword(bytes[this.#at])) this.#at++;
      const type = latin1(bytes, start, this.#at);
      this.skip();
      if (bytes[this.#at] !== OPEN) this.#fail();
      return new Typed(type, this.#list(depth + 1));
    }
    while (this.#at < this.end && (isKeyword(bytes[this.#at]) || bytes[this.#at] === 43 || bytes[this.#at] === 46))
      this.#at++;
    const number = Number(latin1(bytes, start, this.#at));
    if (this.#at === start || Number.isNaN(number)) this.#fail();
    return number;
  }

  #fail(why = 'malformed parameters'): never {
    throw new PrismError('not-readable', `Entity ${this.where}: ${why}.`, { where: this.where });
  }
}

function latin1(bytes: Uint8Array, start: number, end: number): string {
  let out = '';
  for (let i = start; i < end; i++) out += String.fromCharCode(bytes[i]);
  return out;
}

const MAGIC = 'ISO-10303-21';

/** True if the bytes begin as the clear text of ISO 10303-21 does (white space and a byte order mark allowed). */
export function looksLikePart21(bytes: Uint8Array): boolean {
  return latin1(bytes, 0, Math.min(bytes.length, 256))
    .replace(/^\u00ef\u00bb\u00bf/, '')
    .trimStart()
    .startsWith(MAGIC);
}

/**
 * Scans a whole file.
 * @throws PrismError `empty-file`, `not-readable` where the text is not Part 21 or holds no DATA section.
 */
export function scanPart21(bytes: Uint8Array, file = '', progress?: (share: number) => void): Part21 {
  if (bytes.length === 0)
    throw new PrismError('empty-file', `${file || 'The file'} is empty (0 bytes). Ask for it again.`, { file });
  if (!looksLikePart21(bytes)) {
    throw new PrismError(
      'not-readable',
      `${file || 'The file'} is not a STEP file: it does not begin with "${MAGIC};". If it is zipped or in another format, export it as STEP (AP203, AP214 or AP242).`,
      { file, where: 'line 1' },
    );
  }
  const dataStart = findSection(bytes);
  if (dataStart < 0) {
    throw new PrismError(
      'not-readable',
      `${file || 'The file'} ends before its DATA section: nothing can be read. Ask for it again.`,
      { file },
    );
  }
  const estimate = bytes.length / 45;
  const ids = new IntList(estimate);
  const types = new IntList(estimate);
  const refStarts = new IntList(estimate);
  const refs = new IntList(estimate * 3);
  const starts: number[] = [];
  const ends: number[] = [];
  const typeNames: string[] = [];
  const typeBySpelling = new Map<number, { number: number; start: number; length: number }[]>();
  const typeByName = new Map<string, number>();
  const warnings: Warning[] = [];

  const numberOfName = (name: string): number => {
    let number = typeByName.get(name);
    if (number === undefined) {
      number = typeNames.push(name) - 1;
      typeByName.set(name, number);
    }
    return number;
  };
  // Type names repeat a million times: they are recognised by their bytes, without making a string.
  const numberOfSpelling = (start: number, end: number): number => {
    let hash = 2166136261;
    for (let i = start; i < end; i++) hash = Math.imul(hash ^ bytes[i], 16777619);
    const bucket = typeBySpelling.get(hash);
    if (bucket) {
      search: for (const entry of bucket) {
        if (entry.length !== end - start) continue;
        for (let i = 0; i < entry.length; i++) if (bytes[entry.start + i] !== bytes[start + i]) continue search;
        return entry.number;
      }
    }
    const number = numberOfName(latin1(bytes, start, end).toUpperCase());
    const entry = { number, start, length: end - start };
    if (bucket) bucket.push(entry);
    else typeBySpelling.set(hash, [entry]);
    return number;
  };

  let at = dataStart;
  const length = bytes.length;
  let closed = false;
  let truncatedId = -1;
  let nextReport = progress ? REPORTED_EVERY : Infinity;
  while (at < length) {
    if (at >= nextReport) {
      nextReport = at + REPORTED_EVERY;
      progress?.(at / length);
    }
    at = skipBlank(bytes, at);
    if (at >= length) break;
    if (bytes[at] !== HASH) {
      // ENDSEC, another DATA section, or rubbish: skip to the next semicolon.
      const from = at;
      while (at < length && bytes[at] !== SEMICOLON) at++;
      if (latin1(bytes, from, Math.min(at, from + 6)) === 'ENDSEC') closed = true;
      at++;
      continue;
    }
    let id = 0;
    while (isDigit(bytes[++at])) id = id * 10 + bytes[at] - 48;
    at = skipBlank(bytes, at);
    if (bytes[at] !== EQUALS) {
      while (at < length && bytes[at] !== SEMICOLON) at++;
      at++;
      continue;
    }
    at++;
    at = skipBlank(bytes, at);
    const start = at;
    const firstRef = refs.length;
    let type: number;
    let complex = '';
    if (bytes[at] === OPEN) {
      type = -1;
    } else {
      while (at < length && isKeyword(bytes[at])) at++;
      type = numberOfSpelling(start, at);
    }
    let depth = 0;
    let done = false;
    // Nine of ten bytes mean nothing here: a look at the table passes them over.
    const isSpecial = type === -1 ? SPECIAL_IN_COMPLEX : SPECIAL;
    while (at < length) {
      const c = bytes[at];
      if (isSpecial[c] === 0) {
        at++;
        continue;
      }
      if (c === HASH) {
        let ref = 0;
        let d = bytes[++at];
        while (d >= 48 && d <= 57) {
          ref = ref * 10 + d - 48;
          d = bytes[++at];
        }
        refs.push(ref);
        continue;
      }
      if (c === QUOTE) {
        at++;
        while (at < length && bytes[at] !== QUOTE) at++;
      } else if (c === OPEN) depth++;
      else if (c === CLOSE) depth--;
      else if (c === SEMICOLON) {
        done = true;
        break;
      } else if (c === SLASH && bytes[at + 1] === STAR) {
        at += 2;
        while (at < length && !(bytes[at] === STAR && bytes[at + 1] === SLASH)) at++;
        at++;
      } else if (type === -1 && depth === 1 && isUpper(c)) {
        const from = at;
        while (at < length && isKeyword(bytes[at])) at++;
        complex += (complex ? '+' : '') + latin1(bytes, from, at).toUpperCase();
        continue;
      }
      at++;
    }
    if (!done) {
      truncatedId = id;
      refs.length = firstRef;
      break;
    }
    ids.push(id);
    types.push(type === -1 ? numberOfName(`${complex}+`) : type);
    refStarts.push(firstRef);
    starts.push(start);
    ends.push(at);
    at++;
  }
  refStarts.push(refs.length);
  if (truncatedId >= 0) {
    warnings.push({
      code: 'truncated',
      message: `${file || 'The file'} ends in the middle of entity #${truncatedId}. Everything before it was kept; ask for the file again.`,
      where: `#${truncatedId}`,
    });
  } else if (!closed) {
    warnings.push({
      code: 'truncated',
      message: `${file || 'The file'} ends without ENDSEC: it may be cut off. What is there was kept.`,
      where: 'end of file',
    });
  }
  const part21 = new Part21(
    bytes,
    ids.data.subarray(0, ids.length),
    Float64Array.from(starts),
    Float64Array.from(ends),
    types.data.subarray(0, types.length),
    refStarts.data.subarray(0, refStarts.length),
    refs.data.subarray(0, refs.length),
    typeNames,
    readHeader(bytes, dataStart),
  );
  part21.warnings.push(...warnings);
  return part21;
}

/** Position of the next character that is no blank and no comment. */
function skipBlank(bytes: Uint8Array, from: number): number {
  let at = from;
  while (at < bytes.length) {
    const c = bytes[at];
    if (c <= 32) at++;
    else if (c === SLASH && bytes[at + 1] === STAR) {
      at += 2;
      while (at < bytes.length && !(bytes[at] === STAR && bytes[at + 1] === SLASH)) at++;
      at += 2;
    } else break;
  }
  return at;
}

/** Offset behind `DATA;` (or `DATA(...);`), or -1. Strings and comments of the header are passed over. */
function findSection(bytes: Uint8Array): number {
  let word = '';
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i];
    if (c === QUOTE) while (++i < bytes.length && bytes[i] !== QUOTE);
    else if (c === SLASH && bytes[i + 1] === STAR) {
      i += 2;
      while (i < bytes.length && !(bytes[i] === STAR && bytes[i + 1] === SLASH)) i++;
      i++;
    } else if (c === SEMICOLON) {
      if (/^DATA\s*(\(|$)/.test(word.trim())) return i + 1;
      word = '';
    } else if (word.length < 64) word += String.fromCharCode(c);
  }
  return -1;
}

function readHeader(bytes: Uint8Array, dataStart: number): Part21Header {
  const records = new Map<string, Value[]>();
  let at = 0;
  while (at < dataStart) {
    let end = at;
    while (end < dataStart && bytes[end] !== SEMICOLON) {
      if (bytes[end] === QUOTE) while (++end < dataStart && bytes[end] !== QUOTE);
      end++;
    }
    const parser = new ValueParser(bytes, at, end, 'HEADER');
    const c = bytes[parser.skip()];
    if (isUpper(c)) {
      try {
        const record = parser.record();
        records.set(record.type, record.args);
      } catch {
        // A keyword without parameters (HEADER, ENDSEC, the magic): nothing to keep.
      }
    }
    at = end + 1;
  }
  const name = records.get('FILE_NAME') ?? [];
  return {
    description: text((records.get('FILE_DESCRIPTION') ?? [])[0]),
    fileName: text(name[0]),
    timeStamp: text(name[1]),
    author: text(name[2]),
    producer: [text(name[4]), text(name[5])].filter((part, i, all) => part && all.indexOf(part) === i).join(', '),
    schema: text((records.get('FILE_SCHEMA') ?? [])[0]),
  };
}

function text(value: Value | undefined): string {
  if (Array.isArray(value)) return value.map(text).filter(Boolean).join(', ');
  return typeof value === 'string' ? value : '';
}
