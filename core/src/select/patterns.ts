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
  const begins = prefixOf(pattern);
  return (name) => begins(name) && expression.test(name);
}

/**
 * A quick look at the first letters of a name, so that most need no expression: false where it cannot match. Letters beyond ASCII have
 * more forms than two; from the first of them on the expression decides.
 */
function prefixOf(pattern: string): (name: string) => boolean {
  const [plain = ''] = /^[\x20-\x7e]*?(?=[*?]|[^\x20-\x7e]|$)/.exec(pattern) ?? [];
  const codes = Array.from(plain.toLowerCase(), (letter) => letter.charCodeAt(0));
  return (name) => {
    for (let i = 0; i < codes.length; i++) {
      const code = name.charCodeAt(i);
      if (code > 0x7e) return true;
      if (code !== codes[i] && (code | 0x20) !== codes[i]) return false;
    }
    return true;
  };
}
