// The last line of a run tells the truth: what did not run has not passed.
import { describe, expect, it } from 'vitest';
import { ofPlaywright, ofVitest } from './testCounts.mjs';

const file = (status, ...tests) => ({
  name: 'x.test.ts',
  status,
  message: '',
  assertionResults: tests.map(([fullName, became, ...failureMessages]) => ({
    fullName,
    status: became,
    failureMessages,
  })),
});

describe('unit tests', () => {
  it('count what passed, and all others as failed, with what was said', () => {
    const report = {
      testResults: [
        file('passed', ['a', 'passed'], ['b', 'skipped']),
        file('failed', ['c', 'failed', '\x1b[31mexpected 1\x1b[0m\nto be 2'], ['d', 'todo'], ['e', 'pending']),
      ],
    };
    expect(ofVitest(report)).toEqual({
      passed: 1,
      failures: [
        'x.test.ts › b: skipped',
        'x.test.ts › c: failed\n    expected 1\n    to be 2',
        'x.test.ts › d: todo',
        'x.test.ts › e: pending',
      ],
    });
  });

  it('count a file that could not be loaded', () => {
    const report = { testResults: [{ ...file('failed'), message: 'no such module' }] };
    expect(ofVitest(report)).toEqual({
      passed: 0,
      failures: ['x.test.ts › the file as a whole: failed\n    no such module'],
    });
  });

  it('of a run by name leave out what is not meant, and nothing else', () => {
    const report = {
      testResults: [file('passed', ['a', 'skipped'], ['b, at length', 'passed'], ['c, at length', 'skipped'])],
    };
    expect(ofVitest(report, /, at length$/)).toEqual({ passed: 1, failures: ['x.test.ts › c, at length: skipped'] });
    expect(ofVitest({ testResults: [file('failed', ['a', 'skipped'])] }, /, at length$/)).toEqual({
      passed: 0,
      failures: ['x.test.ts › the file as a whole: failed'],
    });
  });
});

describe('stories in the browser', () => {
  const story = (title, status, ...errors) => ({
    title,
    tests: [{ status, results: errors.length ? [{ errors }] : [] }],
  });

  it('count one that a red one kept from running, and one that passed at the second try', () => {
    const suites = [
      {
        file: 'x.e2e.ts',
        specs: [
          story('a', 'expected'),
          story('b', 'unexpected', { message: 'time is over' }, { message: 'no button', location: { line: 9 } }),
          story('c', 'flaky'),
        ],
        suites: [{ file: 'x.e2e.ts', specs: [story('d', 'skipped')] }],
      },
    ];
    expect(ofPlaywright({ suites })).toEqual({
      passed: 1,
      failures: [
        'x.e2e.ts › b: unexpected\n    time is over\n    no button\n    at line 9',
        'x.e2e.ts › c: flaky',
        'x.e2e.ts › d: skipped',
      ],
    });
  });

  it('count what went wrong outside of all of them', () => {
    expect(ofPlaywright({ suites: [], errors: [{ message: 'the server did not start' }] })).toEqual({
      passed: 0,
      failures: ['outside of all stories: failed\n    the server did not start'],
    });
  });
});
