// What is wrong with a step: told by its mark, and before anything is sent.
import { describe, expect, it } from 'vitest';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import { troublesOf } from './stepTroubles.ts';

const report = (more: Partial<StepReport>): StepReport => ({
  id: 's', kind: 'rename', on: true, matched: 3, changed: 3, pending: 0, lost: [], problems: [], triangles: 0, seconds: 0, ...more,
}); // prettier-ignore

describe('a step', () => {
  it('that did what it was to do is no trouble', () => expect(troublesOf(report({}), false)).toEqual([]));

  it('that finds nothing says so, unless there is nothing to find yet', () => {
    expect(troublesOf(report({ matched: 0 }), false)).toEqual(['finds nothing: no row matches its rule']);
    expect(troublesOf(report({ matched: 0 }), true)).toEqual([]);
  });

  it('that is switched off or not evaluated is no trouble', () => {
    expect(troublesOf(report({ on: false, matched: 0 }), false)).toEqual([]);
    expect(troublesOf(undefined, false)).toEqual([]);
  });

  it('counts what is gone in words', () => {
    expect(troublesOf(report({ lost: ['/A'] }), false)).toEqual(['1 picked row is no longer there']);
    expect(troublesOf(report({ lost: ['/A', '/B'], problems: ['Roof: too thin'] }), false)).toEqual([
      '2 picked rows are no longer there',
      'Roof: too thin',
    ]);
  });
});
