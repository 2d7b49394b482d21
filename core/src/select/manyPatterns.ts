/**
 * Many patterns looked for in many names at once. The letters that patterns begin with stand in one tree, along which each name goes
 * until it differs: twenty patterns and a hundred thousand names take as long as two patterns one by one.
 */
import type { Texts } from '../scene/texts.ts';
import { fixedStart, nameMatcher, nameTest } from './patterns.ts';

interface Branch {
  /** Patterns whose fixed letters end here. */
  ends: number[];
  next: Map<number, Branch>;
}

const NONE: readonly number[] = [];
const ONLY: readonly number[] = [0];

/**
 * @param numbers of the texts that are asked about
 * @returns which patterns a text matches, by its number
 */
export function textsMatching(
  texts: Texts,
  numbers: Int32Array,
  patterns: readonly string[],
): (number: number) => readonly number[] {
  if (patterns.length === 1) {
    const matches = nameTest(texts, patterns[0]);
    return (asked) => (matches(asked) ? ONLY : NONE);
  }
  const found: (number[] | undefined)[] = [];
  const used = new Uint8Array(texts.length);
  for (const number of numbers) used[number] = 1;
  const matchers = patterns.map(nameMatcher);
  const root: Branch = { ends: [], next: new Map() };
  for (const [i, pattern] of patterns.entries()) {
    let branch = root;
    for (const code of fixedStart(pattern)) {
      let next = branch.next.get(code);
      if (!next) branch.next.set(code, (next = { ends: [], next: new Map() }));
      branch = next;
    }
    branch.ends.push(i);
  }
  let text = '';
  let number = 0;
  const test = ({ ends }: Branch) => {
    for (const i of ends) if (matchers[i](text)) (found[number] ??= []).push(i);
  };
  const testAll = (branch: Branch) => {
    test(branch);
    branch.next.forEach(testAll);
  };
  const walk = (branch: Branch, at: number): void => {
    test(branch);
    if (branch.next.size === 0 || at >= text.length) return;
    const code = text.charCodeAt(at);
    // Letters beyond ASCII have more forms than two.
    if (code > LAST_OF_ASCII) return branch.next.forEach(testAll);
    const exact = branch.next.get(code);
    if (exact) walk(exact, at + 1);
    if ((code | 0x20) === code) return;
    const small = branch.next.get(code | 0x20);
    if (small) walk(small, at + 1);
  };
  for (number = 0; number < texts.length; number++) {
    if (used[number] !== 1) continue;
    text = texts.get(number);
    walk(root, 0);
  }
  return (asked) => found[asked] ?? NONE;
}

const LAST_OF_ASCII = 0x7e;
