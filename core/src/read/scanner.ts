/** Walks a text of words and numbers byte by byte, without making strings of what is only counted. */

/** Bytes between two reports of progress. */
export const REPORTED_EVERY = 8_000_000;
/** Names that are told with a report. */
export const SEEN_NAMES = 12;

const NEWLINE = 10;
const RETURN = 13;
const BACKSLASH = 92;
const POWERS = Array.from({ length: 23 }, (_, exponent) => 10 ** exponent);
const decoder = new TextDecoder();

/** The same text as UTF-8 without a byte order mark, whatever Unicode form it came in. */
export function asUtf8(bytes: Uint8Array): Uint8Array {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return bytes.subarray(3);
  const form =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : '';
  return form ? new TextEncoder().encode(new TextDecoder(form).decode(bytes)) : bytes;
}

/** The first bytes as text, for recognising formats. */
export function headOf(bytes: Uint8Array, length = 1024): string {
  return decoder.decode(asUtf8(bytes.subarray(0, length)));
}

export class Scanner {
  at = 0;
  /** Number of the line that is being read, from 1. */
  line = 1;

  #nextReport: number;

  /** @param progress told the share that was passed, 0 to 1, now and then */
  constructor(
    readonly bytes: Uint8Array,
    readonly progress?: (share: number) => void,
  ) {
    this.#nextReport = progress ? REPORTED_EVERY : Infinity;
  }

  get ended(): boolean {
    return this.at >= this.bytes.length;
  }

  /** Over blanks, and over a line's end that a backslash continues; false where the line or the text ends. */
  more(): boolean {
    const { bytes } = this;
    for (; this.at < bytes.length; this.at++) {
      const byte = bytes[this.at];
      if (byte === NEWLINE) return false;
      if (byte === BACKSLASH && this.#continues()) continue;
      if (byte > 32) return true;
    }
    return false;
  }

  #continues(): boolean {
    let next = this.at + 1;
    if (this.bytes[next] === RETURN) next++;
    if (this.bytes[next] !== NEWLINE) return false;
    this.at = next;
    this.line++;
    return true;
  }

  /** Over blanks and line ends; false at the end of the text. */
  anywhere(): boolean {
    while (!this.more()) {
      if (this.ended) return false;
      this.nextLine();
    }
    return true;
  }

  /** To the first byte of the next line. */
  nextLine(): void {
    const end = this.bytes.indexOf(NEWLINE, this.at);
    this.at = end < 0 ? this.bytes.length : end + 1;
    this.line++;
    if (this.at < this.#nextReport) return;
    this.#nextReport = this.at + REPORTED_EVERY;
    this.progress?.(this.at / this.bytes.length);
  }

  /** The word at hand. */
  word(): string {
    const from = this.at;
    while (this.at < this.bytes.length && this.bytes[this.at] > 32) this.at++;
    return decoder.decode(this.bytes.subarray(from, this.at));
  }

  /** The rest of the line, without blanks around it. */
  rest(): string {
    const end = this.bytes.indexOf(NEWLINE, this.at);
    const to = end < 0 ? this.bytes.length : end;
    const text = decoder.decode(this.bytes.subarray(this.at, to)).trim();
    this.at = to;
    return text;
  }

  /** Over one byte, where it is the one given. */
  skip(byte: number): boolean {
    if (this.bytes[this.at] !== byte) return false;
    this.at++;
    return true;
  }

  /** A whole number; NaN, and nothing read, where there is none. */
  integer(): number {
    const { bytes } = this;
    let at = this.at;
    const negative = bytes[at] === 45;
    if (negative || bytes[at] === 43) at++;
    const from = at;
    let value = 0;
    for (; bytes[at] >= 48 && bytes[at] <= 57; at++) value = value * 10 + bytes[at] - 48;
    if (at === from) return NaN;
    this.at = at;
    return negative ? -value : value;
  }

  /**
   * A decimal number, rounded as the language itself rounds: up to 15 digits with a small exponent are exact in two doubles
   * (Clinger 1990), anything longer is left to `Number`. NaN, with the word read, where there is none.
   */
  number(): number {
    const { bytes } = this;
    const from = this.at;
    let at = from;
    const negative = bytes[at] === 45;
    if (negative || bytes[at] === 43) at++;
    let mantissa = 0;
    let digits = 0;
    let exponent = 0;
    for (; bytes[at] >= 48 && bytes[at] <= 57; at++) {
      mantissa = mantissa * 10 + bytes[at] - 48;
      if (mantissa > 0) digits++;
    }
    const whole = at;
    if (bytes[at] === 46) {
      for (at++; bytes[at] >= 48 && bytes[at] <= 57; at++) {
        mantissa = mantissa * 10 + bytes[at] - 48;
        if (mantissa > 0) digits++;
        exponent--;
      }
    }
    const hasDigits = at > whole + 1 || whole > from + (negative ? 1 : 0);
    if (hasDigits && (bytes[at] === 101 || bytes[at] === 69)) {
      let after = at + 1;
      const down = bytes[after] === 45;
      if (down || bytes[after] === 43) after++;
      const start = after;
      let power = 0;
      for (; bytes[after] >= 48 && bytes[after] <= 57; after++) power = Math.min(power * 10 + bytes[after] - 48, 9999);
      if (after > start) {
        exponent += down ? -power : power;
        at = after;
      }
    }
    const ends = at >= bytes.length || bytes[at] <= 32 || bytes[at] === 44;
    if (hasDigits && ends && digits <= 15 && exponent >= -22 && exponent <= 22) {
      this.at = at;
      const value = exponent < 0 ? mantissa / POWERS[-exponent] : mantissa * POWERS[exponent];
      return negative ? -value : value;
    }
    const text = this.word();
    return text === '' ? NaN : Number(text);
  }
}
