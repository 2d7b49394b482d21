/** Parameters of entities: what they can be, and how they are parsed. */
import { PrismError } from '../../errors.ts';
import { CLOSE, HASH, isDigit, isKeyword, isSpace, isUpper, latin1, OPEN, QUOTE, SLASH, STAR } from './characters.ts';
import { decodeString, isPlain } from './strings.ts';

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

/** Recursive descent over the parameters of one entity. */
export class ValueParser {
  #at: number;
  constructor(
    readonly bytes: Uint8Array,
    start: number,
    readonly end: number,
    /** Number of the entity; its name where it has none. Most entities are sound, so it is not made a text before it is asked for. */
    readonly where: number | string,
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

  /** Parameters of a record whose type is known. */
  parameters(): Value[] {
    this.skip();
    while (this.#at < this.end && isKeyword(this.bytes[this.#at])) this.#at++;
    this.skip();
    if (this.bytes[this.#at] !== OPEN) this.#fail();
    return this.#list(0);
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
      const end = this.#at++;
      return isPlain(bytes, start, end) ? latin1(bytes, start, end) : decodeString(bytes.subarray(start, end));
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
    const where = typeof this.where === 'number' ? `#${this.where}` : this.where;
    throw new PrismError('not-readable', `Entity ${where}: ${why}.`, { where });
  }
}
