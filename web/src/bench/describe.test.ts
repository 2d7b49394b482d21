// Words for sizes and units, as people read them in lists.
import { describe, expect, it } from 'vitest';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene, SourceInfo } from '@noble-prism/core/scene/types';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { describeSize } from './describe.ts';

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
