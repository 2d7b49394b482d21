/**
 * Patterns for names: `*` stands for anything, `?` for one character; letters match in either case. Between two slashes stands a regular
 * expression, found anywhere in the name.
 */
import type { Texts } from '../scene/texts.ts';

/** A test of texts by their numbers, each text tested once. */
export function oncePerNumber(texts: Texts, test: (text: string) => boolean): (number: number) => boolean {
  const known = new Uint8Array(texts.length);
  return (number) => {
    if (known[number] === 0) known[number] = test(texts.get(number)) ? 1 : 2;
    return known[number] === 1;
  };
}

/** The inside of `/…/`; undefined for a pattern with stars. */
const expressionIn = (pattern: string) => /^\/(.+)\/$/u.exec(pattern)?.[1];

/** A repetition, or a choice, within something that is repeated: such an expression may try for ever. */
const REPEATED_TWICE = /\((?:[^()\\]|\\.)*[*+}|](?:[^()\\]|\\.)*\)[*+{]/u;

/** What is wrong with a pattern, for people; undefined where it can be used. */
export function patternProblem(pattern: string): string | undefined {
  const expression = expressionIn(pattern);
  if (expression === undefined) return undefined;
  if (REPEATED_TWICE.test(expression))
    return `The pattern ${pattern} repeats something that is repeated, or a choice, within itself: looking for it may never end.`;
  try {
    new RegExp(expression, 'iu');
    return undefined;
  } catch (error) {
    const why = (error as Error).message.split(': ').at(-1) ?? '';
    return `The pattern ${pattern} cannot be understood: ${why.charAt(0).toLowerCase()}${why.slice(1)}.`;
  }
}

/** A pattern that cannot be understood finds nothing. */
export function nameMatcher(pattern: string): (name: string) => boolean {
  if (pattern === '*') return () => true;
  const own = expressionIn(pattern);
  if (own !== undefined && patternProblem(pattern) !== undefined) return () => false;
  const source = pattern
    .replace(/[.+^${}()|[\]\\]/g, '\\$&')
    .replace(/\*+/g, '.*')
    .replace(/\?/g, '.');
  const expression = new RegExp(own ?? `^${source}$`, 'iu');
  return (name) => expression.test(name);
}

/** Codes of the small letters that everything that matches begins with, as far as they are ASCII; an expression may be found anywhere. */
export function fixedStart(pattern: string): number[] {
  if (expressionIn(pattern) !== undefined) return [];
  const [plain = ''] = /^[\x20-\x7e]*?(?=[*?]|[^\x20-\x7e]|$)/.exec(pattern) ?? [];
  return Array.from(plain.toLowerCase(), (letter) => letter.charCodeAt(0));
}

/** A pattern as a test of names by their numbers. Most are told by their first letters, and not written out for it. */
export function nameTest(texts: Texts, pattern: string): (number: number) => boolean {
  const matches = nameMatcher(pattern);
  const codes = fixedStart(pattern);
  const known = new Uint8Array(texts.length);
  return (number) => {
    if (known[number] === 0) known[number] = texts.mayBegin(number, codes) && matches(texts.get(number)) ? 1 : 2;
    return known[number] === 1;
  };
}
