// What engines and libraries throw becomes words for people; sentences of our own stay as they are.
import { describe, expect, it } from 'vitest';
import { said } from './library.ts';

function thrownBy(work: () => unknown): unknown {
  try {
    work();
  } catch (error) {
    return error;
  }
  throw new Error('Nothing was thrown.');
}

const nothing = undefined as unknown as { a: { b(): void } };

describe('what was thrown', () => {
  // Thrown by the engine itself, so that other words of another engine would be noticed.
  it.each<[string, () => unknown, RegExp]>([
    ['a value that is not there', () => nothing.a, /does not fit together/],
    ['a function that is none', () => ({}) as never as () => void, /./],
    ['a list that is none', () => [...(5 as never as number[])], /does not fit together/],
    ['a size that cannot be', () => new Float32Array(-1), /sizes or places that cannot be/],
    ['a place outside', () => new DataView(new ArrayBuffer(2)).getUint32(8), /sizes or places that cannot be/],
    ['text that is no JSON', () => JSON.parse('{"a": <'), /its text breaks off/],
    ['half a JSON', () => JSON.parse('{"a": '), /its text breaks off/],
  ])('%s is said in words', (name, work, words) => {
    const error = name.startsWith('a function') ? thrownBy(() => (work() as () => void)()) : thrownBy(work);
    expect(said(error)).not.toMatch(/undefined|function|JSON|DataView|typed array/);
    expect(said(error)).toMatch(words);
  });

  it('endless nesting is said in words', () => {
    const deeper = (): number => deeper() + 1;
    expect(said(thrownBy(deeper))).toBe('it nests deeper than can be followed');
  });

  it('a sentence of a library stays, and a bare number of compiled code becomes one', () => {
    expect(said(new Error('version 3 of the binary form is not read\nat line 4'))).toBe(
      'version 3 of the binary form is not read',
    );
    expect(said(5_242_880)).toBe('it cannot be translated');
  });
});
