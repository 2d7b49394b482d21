/** Scans the clear text of a STEP file into its index, without making strings of what is only passed over. */
import { PrismError } from '../../errors.ts';
import type { Warning } from '../../errors.ts';
import type { Seen } from '../../surroundings.ts';
import type { SourceFile } from '../reader.ts';
import { REPORTED_EVERY, SEEN_NAMES } from '../scanner.ts';
import {
  CLOSE,
  EQUALS,
  HASH,
  isDigit,
  isKeyword,
  isUpper,
  latin1,
  OPEN,
  QUOTE,
  SEMICOLON,
  skipBlank,
  SLASH,
  STAR,
} from './characters.ts';
import { findSection, readHeader } from './header.ts';
import type { Part21Header } from './header.ts';
import { Part21 } from './part21.ts';
import { ValueParser } from './values.ts';

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
export function scanPart21(bytes: Uint8Array, file = '', progress?: SourceFile['progress']): Part21 {
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

  const header = readHeader(bytes, dataStart);
  const product = progress ? numberOfName('PRODUCT') : -1;
  const productStarts: number[] = [];
  let at = dataStart;
  const length = bytes.length;
  let closed = false;
  let truncatedId = -1;
  let nextReport = progress ? REPORTED_EVERY : Infinity;
  while (at < length) {
    if (at >= nextReport) {
      nextReport = at + REPORTED_EVERY;
      progress?.(at / length, seenIn(bytes, header, productStarts));
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
    if (type === product) productStarts.push(start);
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
    header,
  );
  part21.warnings.push(...warnings);
  return part21;
}

/** Products that have come by, with the names of the latest. */
function seenIn(bytes: Uint8Array, { schema, producer }: Part21Header, starts: readonly number[]): Seen {
  const names = starts.slice(-SEEN_NAMES).flatMap((start) => {
    try {
      const [id, name] = new ValueParser(bytes, start, Math.min(bytes.length, start + LONGEST_PRODUCT), '').record()
        .args;
      return [String(name || id)];
    } catch {
      // What cannot be parsed is told of when it is read.
      return [];
    }
  });
  const head = [schema.split(/[ ,{]/)[0], producer].filter(Boolean).join(', ');
  return { format: 'STEP', head, what: 'products', count: starts.length, names };
}

/** Bytes in which a product is expected to end. */
const LONGEST_PRODUCT = 4000;
