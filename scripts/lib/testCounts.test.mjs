// The last line of a run tells the truth: what did not run has not passed.
import { describe, expect, it } from 'vitest';
import { ofPlaywright, ofVitest } from './testCounts.mjs';

const file = (status, ...tests) => ({
  status,
  assertionResults: tests.map(([fullName, became]) => ({ fullName, status: became })),
});

describe('unit tests', () => {
  it('count what passed, and all others as failed', () => {
    const report = {
      testResults: [
        file('passed', ['a', 'passed'], ['b', 'skipped']),
        file('failed', ['c', 'failed'], ['d', 'todo'], ['e', 'pending']),
      ],
    };
    expect(ofVitest(report)).toEqual({ passed: 1, failed: 4 });
  });

  it('count a file that could not be loaded', () => {
    expect(ofVitest({ testResults: [file('failed')] })).toEqual({ passed: 0, failed: 1 });
  });

  it('of a run by name leave out what is not meant, and nothing else', () => {
    const report = {
      testResults: [file('passed', ['a', 'skipped'], ['b, at length', 'passed'], ['c, at length', 'skipped'])],
    };
    expect(ofVitest(report, /, at length$/)).toEqual({ passed: 1, failed: 1 });
    expect(ofVitest({ testResults: [file('failed', ['a', 'skipped'])] }, /, at length$/)).toEqual({
      passed: 0,
      failed: 1,
    });
  });
});

describe('stories in the browser', () => {
  it('count one that a red one kept from running, and one that passed at the second try', () => {
    const stats = { expected: 30, unexpected: 1, flaky: 1, skipped: 3 };
    expect(ofPlaywright({ stats })).toEqual({ passed: 30, failed: 5 });
  });

  it('count what went wrong outside of all of them', () => {
    const stats = { expected: 0, unexpected: 0, flaky: 0, skipped: 0 };
    expect(ofPlaywright({ stats, errors: [{ message: 'the server did not start' }] })).toEqual({
      passed: 0,
      failed: 1,
    });
  });
});
