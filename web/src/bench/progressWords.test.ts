// How far long work is, in words.
import { describe, expect, it } from 'vitest';
import { duration, progressWords } from './progressWords.ts';

const at = (done: number, total: number, seconds?: number, unit?: '%') =>
  progressWords(
    {
      what: 'x',
      done,
      total,
      ...(unit ? { unit } : {}),
      ...(seconds === undefined ? {} : { since: 1_000_000 - seconds * 1000 }),
    },
    1_000_000,
  );

describe('progress', () => {
  it.each([
    [at(12, 47), '12 of 47'],
    [at(12, 48, 20), '12 of 48 · 20 s, about 60 s left'],
    [at(1, 100, 60), '1 of 100 · 60 s'],
    [at(30, 60, 2), '30 of 60 · 2 s'],
    [at(40, 100, 10, '%'), '40 % · 10 s, about 15 s left'],
    [at(0, 1, 7), '7 s'],
    [at(5, 5, 7), '5 of 5 · 7 s'],
  ])('%s', (words, expected) => expect(words).toBe(expected));

  it('does not run backwards where clocks differ', () => {
    expect(progressWords({ what: 'x', done: 1, total: 3, since: 2000 }, 1000)).toBe('1 of 3');
  });

  it.each([
    [0.2, '1 s'],
    [89, '89 s'],
    [100, '2 min'],
    [3600 + 20 * 60, '1 h 20 min'],
  ])('takes %d s as %s', (seconds, words) => expect(duration(seconds)).toBe(words));
});
