/** The HEADER section: what a file says of itself, and where its data begins. */
import { isUpper, QUOTE, SEMICOLON, SLASH, STAR } from './characters.ts';
import { ValueParser } from './values.ts';
import type { Value } from './values.ts';

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

/** Offset behind `DATA;` (or `DATA(...);`), or -1. Strings and comments of the header are passed over. */
export function findSection(bytes: Uint8Array): number {
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

export function readHeader(bytes: Uint8Array, dataStart: number): Part21Header {
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
