/**
 * Text that is put together piece by piece and becomes bytes as it grows: one string of a large model would be longer than strings may
 * be. Numbers go straight into the bytes, which is several times faster than making a text of each; what is full goes to where the file
 * grows, and is kept here no longer.
 */
import { memorySpool } from '../content.ts';
import type { Content, Spool, Spooling } from '../content.ts';

const ROOM = 1 << 20;
/** Bytes that one number takes at most. */
const NUMBER = 40;
/** Largest number that is written by its digits: beyond, doubles are no whole numbers any more. */
const WHOLE = 2 ** 53;
const HALF = 1_000_000_000;

export class Pieces {
  readonly #encoder = new TextEncoder();
  readonly #file: Spooling;
  readonly #open = new Uint8Array(ROOM);
  #at = 0;
  #length = 0;
  #content: Content | undefined;

  constructor(spool: Spool = memorySpool) {
    this.#file = spool.open();
  }

  /** Bytes so far. */
  get length(): number {
    return this.#length + this.#at;
  }

  text(text: string): this {
    // A character takes three bytes at most.
    if (text.length * 3 > ROOM - this.#at) {
      this.#flush();
      if (text.length * 3 > ROOM) {
        this.raw(this.#encoder.encode(text));
        return this;
      }
    }
    this.#at += this.#encoder.encodeInto(text, this.#open.subarray(this.#at)).written;
    return this;
  }

  raw(bytes: Uint8Array): this {
    this.#flush();
    this.#file.write(bytes);
    this.#length += bytes.length;
    return this;
  }

  /** A number with that many decimals at most, without zeros at its end. What is no number is 0. */
  number(value: number, decimals: number): this {
    if (this.#at + NUMBER > ROOM) this.#flush();
    const scaled = Math.round(Math.abs(value) * POWERS[decimals]);
    if (!(scaled < WHOLE)) return this.text(Number.isFinite(value) ? String(value) : '0');
    if (value < 0 && scaled > 0) this.#open[this.#at++] = MINUS;
    this.#digits(scaled, decimals);
    return this;
  }

  /** The same with a point, also where it is whole: `1.`. */
  real(value: number, decimals: number): this {
    const scaled = Math.round(Math.abs(value) * POWERS[decimals]);
    if (!(scaled < WHOLE)) return this.text(Number.isFinite(value) ? realText(value) : '0.');
    this.number(value, decimals);
    return scaled % POWERS[decimals] === 0 ? this.sign(POINT) : this;
  }

  whole(value: number): this {
    return this.number(value, 0);
  }

  /** Several numbers with a blank between them. */
  numbers(values: ArrayLike<number>, from: number, count: number, decimals: number): this {
    for (let i = 0; i < count; i++) {
      if (i > 0) this.#open[this.#at++] = BLANK;
      this.number(values[from + i], decimals);
    }
    return this;
  }

  /** One character of the first 128. */
  sign(code: number): this {
    if (this.#at === ROOM) this.#flush();
    this.#open[this.#at++] = code;
    return this;
  }

  /** Ends the text. */
  content(): Content {
    this.#flush();
    return (this.#content ??= this.#file.end());
  }

  /** The text as a whole. */
  bytes(): Uint8Array<ArrayBuffer> {
    return this.content().bytes();
  }

  #flush(): void {
    if (this.#at === 0) return;
    this.#file.write(this.#open.subarray(0, this.#at));
    this.#length += this.#at;
    this.#at = 0;
  }

  #digits(scaled: number, decimals: number): void {
    // Two halves of whole numbers of 32 bits, whose digits are quickly taken.
    let high = Math.floor(scaled / HALF);
    let low = scaled - high * HALF;
    let count = 0;
    while (high > 0 ? count < 9 : low > 0) {
      const next = Math.floor(low / 10);
      DIGITS[count++] = low - next * 10;
      low = next;
    }
    while (high > 0) {
      const next = Math.floor(high / 10);
      DIGITS[count++] = high - next * 10;
      high = next;
    }
    while (count <= decimals) DIGITS[count++] = 0;
    let last = 0;
    while (last < decimals && DIGITS[last] === 0) last++;
    for (let i = count - 1; i >= last; i--) {
      if (i === decimals - 1) this.#open[this.#at++] = POINT;
      this.#open[this.#at++] = ZERO + DIGITS[i];
    }
  }
}

/** A real of a file of Part 21 has a point: `1.`, `1.E-7` (ISO 10303-21). */
export function realText(value: number): string {
  const [mantissa, exponent] = String(value + 0).split('e');
  const whole = mantissa.includes('.') ? mantissa : `${mantissa}.`;
  return exponent === undefined ? whole : `${whole}E${Number(exponent)}`;
}

const DIGITS = new Uint8Array(NUMBER);
const POWERS = Array.from({ length: 19 }, (_, decimals) => 10 ** decimals);
const [ZERO, POINT, MINUS, BLANK] = [48, 46, 45, 32];
/** The end of a line. */
export const NEWLINE = 10;

/** Decimals that hold lengths up to the given one to a ten-millionth of it, which is finer than single precision. */
export function decimalsFor(reach: number): number {
  if (!(reach > 0) || !Number.isFinite(reach)) return 6;
  return Math.min(15, Math.max(0, 7 - Math.floor(Math.log10(reach))));
}
