// What two files need of each other stands in a third: no file leads back to itself when programs run.
import { describe, expect, it } from 'vitest';
import { circlesIn, importGraph, importsOf } from './circles.mjs';

describe('circles', () => {
  it('are groups of files that all lead to each other', () => {
    const graph = new Map(
      Object.entries({ a: ['b'], b: ['c', 'd'], c: ['a'], d: ['e'], e: ['d'], f: ['a', 'f'], g: [] }),
    );
    expect(circlesIn(graph)).toEqual([['a', 'b', 'c'], ['d', 'e'], ['f']]);
  });

  it('are looked for in all ways of importing', () => {
    const text = [
      "import { one } from './one.ts';",
      'import type { Two } from "./two.ts";',
      "import { type Three, type Four } from './three.ts';",
      "import {\n  five,\n  type Six,\n} from './five.ts';",
      "export * from './seven.ts';",
      "import './eight.css';",
      "const nine = await import('./nine.ts');",
    ].join('\n');
    expect(importsOf(text).map(({ from, isType }) => `${from}${isType ? ' type' : ''}`)).toEqual([
      './one.ts',
      './two.ts type',
      './three.ts type',
      './five.ts',
      './seven.ts',
      './eight.css',
      './nine.ts',
    ]);
  });

  it('are nowhere when programs run', () => {
    const graph = importGraph({ types: false });
    expect(graph.size).toBeGreaterThan(900);
    expect(graph.get('cli/src/batch.ts')).toContain('core/src/units.ts');
    expect(circlesIn(graph)).toEqual([]);
  });

  it('of types become no more', () => {
    // Of those that there are, one runs through what readers, steps and writers are handed.
    const sizes = circlesIn(importGraph({ types: true })).map(({ length }) => length);
    expect(sizes.length).toBeLessThanOrEqual(2);
    expect(sizes[0] ?? 0).toBeLessThanOrEqual(45);
  });
});
