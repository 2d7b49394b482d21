/**
 * Tests come in two sizes: `npm test` takes a true sample of what is much of the same, or large, and `npm run test:long` the rest of it.
 * What is not of the run's size is not registered at all, so that nothing has to be skipped.
 */
import { it } from 'vitest';

type Body<A extends unknown[]> = (...values: A) => unknown;

interface Sized {
  (name: string, body: Body<[]>, timeout?: number): void;
  each<T>(
    cases: readonly T[],
  ): (name: string, body: Body<T extends readonly unknown[] ? [...T] : [T]>, timeout?: number) => void;
}

/** The long run takes the tests whose names end so, and no others. */
const MARK = ', at length';

/** Longest time of one of them, milliseconds. */
const LONGEST = 300_000;

const isLong = process.env.TESTS === 'long';

/** A test of the long run. */
export const atLength: Sized = Object.assign(
  (name: string, body: Body<[]>, timeout = LONGEST) => {
    if (isLong) it(name + MARK, body, timeout);
  },
  {
    each:
      (cases: readonly unknown[]) =>
      (name: string, body: Body<never>, timeout = LONGEST) => {
        if (isLong) it.each(cases)(name + MARK, body as () => void, timeout);
      },
  },
);
