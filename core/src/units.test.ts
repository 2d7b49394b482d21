// 1 in = 25.4 mm and 1 ft = 0.3048 m exactly (international yard and pound agreement, 1959).
import { describe, expect, it } from 'vitest';
import { formatAngle, formatBytes, formatCount, formatLength, formatNumber } from './units.ts';
import { hexFromLinear, linearFromHex, linearFromSrgb, srgbFromLinear } from './finish/colour.ts';

describe('lengths', () => {
  it.each([
    [1.05, 'mm', '1\u2009050\u00a0mm'],
    [0.0254, 'in', '1\u00a0in'],
    [0.00012345, 'mm', '0.123\u00a0mm'],
    [0, 'm', '0\u00a0m'],
  ])('%f m is written in %s', (metres, unit, text) => expect(formatLength(metres, unit)).toBe(text));
});

describe('other figures', () => {
  it('angles in degrees', () => expect(formatAngle(Math.PI / 10)).toBe('18°'));
  it('counts, sizes and numbers with thin spaces and no false precision', () => {
    expect(formatCount(1234567)).toBe('1\u2009234\u2009567');
    expect(formatCount(999)).toBe('999');
    expect([999, 1500, 2_400_000, 3.1e9].map(formatBytes)).toEqual([
      '999\u00a0B',
      '1.5\u00a0kB',
      '2.4\u00a0MB',
      '3.1\u00a0GB',
    ]);
    expect(formatNumber(1 / 3)).toBe('0.333');
    expect(formatNumber(Number.NaN)).toBe('–');
  });
});

describe('colour', () => {
  it('0.5 encoded is 0.21404 linear (IEC 61966-2-1)', () => expect(linearFromSrgb(0.5)).toBeCloseTo(0.21404, 5));
  it('goes there and back', () => {
    for (const x of [0, 0.002, 0.04, 0.2, 0.7, 1]) expect(srgbFromLinear(linearFromSrgb(x))).toBeCloseTo(x, 10);
    expect(hexFromLinear(linearFromHex('#9aa496'))).toBe('#9aa496');
  });
});
