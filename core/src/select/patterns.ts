/** Patterns for names: `*` stands for anything, `?` for one character; letters match in either case. */
import type { Texts } from '../scene/texts.ts';

/** A test of texts by their numbers, each text tested once. */
export function oncePerNumber(texts: Texts, test: (text: string) => boolean): (number: number) => boolean {
  const known = new Uint8Array(texts.length);
  return (number) => {
    if (known[number] === 0) known[number] = test(texts.get(number)) ? 1 : 2;
    return known[number] === 1;
  };
}

export function nameMatcher(pattern: string): (name: string) => boolean {
  const source = pattern
    .replace(/[.+^${}()|[\]\\]/g, '\\$&')
    .replace(/\*+/g, '.*')
    .replace(/\?/g, '.');
  if (pattern === '*') return () => true;
  const expression = new RegExp(`^${source}$`, 'iu');
  return (name) => expression.test(name);
}

/** A pattern as a test of names by their numbers. Most are told by their first letters, and not written out for it. */
export function nameTest(texts: Texts, pattern: string): (number: number) => boolean {
  const matches = nameMatcher(pattern);
  const [plain = ''] = /^[\x20-\x7e]*?(?=[*?]|[^\x20-\x7e]|$)/.exec(pattern) ?? [];
  const codes = Array.from(plain.toLowerCase(), (letter) => letter.charCodeAt(0));
  const known = new Uint8Array(texts.length);
  return (number) => {
    if (known[number] === 0) known[number] = texts.mayBegin(number, codes) && matches(texts.get(number)) ? 1 : 2;
    return known[number] === 1;
  };
}
