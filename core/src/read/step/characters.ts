/** Characters of the clear text of ISO 10303-21, as bytes. */

export const HASH = 35;
export const QUOTE = 39;
export const OPEN = 40;
export const CLOSE = 41;
export const STAR = 42;
export const SLASH = 47;
export const SEMICOLON = 59;
export const EQUALS = 61;

export const isDigit = (c: number) => c >= 48 && c <= 57;
export const isUpper = (c: number) => (c >= 65 && c <= 90) || c === 95;
export const isKeyword = (c: number) => isUpper(c) || isDigit(c) || (c >= 97 && c <= 122) || c === 45;
export const isSpace = (c: number) => c === 32 || (c >= 9 && c <= 13);

export function latin1(bytes: Uint8Array, start: number, end: number): string {
  let out = '';
  for (let i = start; i < end; i++) out += String.fromCharCode(bytes[i]);
  return out;
}

/** Position of the next character that is no blank and no comment. */
export function skipBlank(bytes: Uint8Array, from: number): number {
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
