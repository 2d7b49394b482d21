// Words for rules, sizes and units, as people read them in lists.
import { describe, expect, it } from 'vitest';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene, SourceInfo } from '@noble-prism/core/scene/types';
import { describeSelector, describeSize, unitOf } from './describe.ts';

describe('rules in words', () => {
  it.each([
    [{ by: 'all' }, 'everything'],
    [{ by: 'picked', keys: ['s:/Drive unit/Motor'] }, 'Motor'],
    [{ by: 'picked', keys: ['a', 'b', 'c'] }, '3 picked'],
    [{ by: 'layer', layers: ['FASTENERS', 'GUARDS'] }, 'layer FASTENERS, GUARDS'],
    [{ by: 'name', pattern: 'Motor*' }, 'named Motor*'],
    [{ by: 'class', classes: ['IfcWall'] }, 'class IfcWall'],
    [{ by: 'property', name: 'Pset.FireRating', value: 'EI 60' }, 'Pset.FireRating = EI 60'],
    [{ by: 'size', max: 0.02 }, '≤ 20\u00a0mm'],
    [{ by: 'size', min: 0.5, max: 2 }, '≥ 500\u00a0mm ≤ 2\u2009000\u00a0mm'],
    [{ by: 'not', of: [{ by: 'layer', layers: ['A'] }] }, 'not (layer A)'],
    [
      {
        by: 'or',
        of: [
          { by: 'layer', layers: ['A'] },
          { by: 'name', pattern: 'B' },
        ],
      },
      'layer A or named B',
    ],
    // Which source is meant is plain from the sheet that the rule stands on.
    [
      {
        by: 'and',
        of: [
          { by: 'source', sources: ['s1'] },
          { by: 'layer', layers: ['A'] },
        ],
      },
      'layer A',
    ],
    [{ by: 'and', of: [{ by: 'source', sources: ['s1'] }] }, 'source s1'],
  ] as const)('%j', (selector, words) => {
    expect(
      describeSelector(selector as never)
        .replace(/\s+/g, ' ')
        .replace(/\u2009/g, ' '),
    ).toBe(words.replace(/\s+/g, ' ').replace(/\u2009/g, ' '));
  });
});

describe('sizes', () => {
  it('have one unit behind all three sides', () => {
    expect(describeSize([1.05, 0.684, 0.7], 'mm')).toMatch(/^1\s?050 × 684 × 700\u00a0mm$/u);
    expect(describeSize([2.54, 0.0254, 0], 'inch')).toBe('100 × 1 × 0\u00a0inch');
  });

  it('are read in the unit of the first source, in millimetres where that has no name of ours', () => {
    const sceneIn = (name: string): Scene => ({ ...EMPTY_SCENE, sources: [{ unit: { name } } as SourceInfo] });
    expect(unitOf(sceneIn('inch'))).toBe('inch');
    expect(unitOf(sceneIn('parsec'))).toBe('mm');
    expect(unitOf(sceneIn('centimeter'))).toBe('cm');
    expect(unitOf(EMPTY_SCENE)).toBe('mm');
  });
});
