// Sizes of common things (common practice of the trade, no source), and units by their definitions.
import { describe, expect, it } from 'vitest';
import { plausibility } from './plausible.ts';

const MM = { metres: 0.001, declared: true };

describe('plausibility of a size', () => {
  it.each([
    [[0.9, 0.04, 2.1], 'a door leaf'],
    [[0.5, 0.3, 1.75], 'a standing person'],
    [[0.02, 0.01, 0.01], 'a bolt or a fitting'],
    [[12, 10, 3], 'one storey'],
    [[4.5, 1.8, 1.5], 'a machine or a vehicle'],
    [[18, 16, 7], 'a large machine or a house'],
    [[180, 60, 30], 'a large building'],
  ] as const)('%j m is like %s', (size, likeness) => {
    expect(plausibility([...size], MM)).toMatchObject({ likeness, doubtful: false, alternatives: [] });
  });

  it('asks for the unit where a door became a mountain: 2.1 m read 1000 times too large', () => {
    const { doubtful, alternatives } = plausibility([900, 40, 2100], { metres: 1, declared: true });
    expect(doubtful).toBe(true);
    expect(alternatives.find(({ unit }) => unit === 'mm')).toMatchObject({ factor: 0.001, largest: 2.1 });
  });

  it('asks for the unit where nothing is declared, with what each would mean', () => {
    const { doubtful, alternatives } = plausibility([53.34, 10, 22.86], { metres: 1, declared: false });
    expect(doubtful).toBe(false);
    // 53.34 × 0.0254 = 1.354836.
    expect(alternatives.find(({ unit }) => unit === 'inch')?.largest).toBeCloseTo(1.354836, 9);
    expect(alternatives.map(({ unit }) => unit)).not.toContain('m');
  });

  it('finds a speck doubtful, and nothing at all without doubt', () => {
    expect(plausibility([0.0005, 0.0005, 0.0005], MM).doubtful).toBe(true);
    expect(plausibility([0, 0, 0], MM)).toMatchObject({ doubtful: false });
  });
});
