// What people type: what the application itself shows is read again, in any grouping; feet and inches as they are written on drawings.
import { describe, expect, it } from 'vitest';
import { parseAngle, parseLength, parseNumber } from './typed.ts';
import { formatCount, formatLength, formatNumber } from './units.ts';

describe('numbers', () => {
  it.each([
    ['1500', 1500],
    ['1 500', 1500],
    ['1\u2009500', 1500],
    ['1\u00a0500.25', 1500.25],
    ['1,500', 1500],
    ['1,234,567.5', 1_234_567.5],
    ['1.234,5', 1234.5],
    ['1,5', 1.5],
    ['0,500', 0.5],
    ['12,25', 12.25],
    ['−3', -3],
    ['+.5', 0.5],
    ['2e-3', 0.002],
  ])('%s is %d', (text, value) => expect(parseNumber(text)).toBe(value));
  it.each(['', 'ten', '1 2', '1 50', '1,50,000', '1..5', '1,5,5', '--1', '1 500 0', 'NaN', 'Infinity'])(
    '%j is none',
    (text) => expect(parseNumber(text)).toBeUndefined(),
  );
  it('are read as they are written here', () => {
    for (const value of [0.5, 999, 1000, 12_345.6, 1_050_000, -2500]) {
      expect(parseNumber(formatNumber(value, 8))).toBe(value);
      expect(parseNumber(formatCount(value))).toBe(Math.round(value));
      expect(parseLength(formatLength(value, 'mm', 8))).toBeCloseTo(value, 6);
    }
  });
});

describe('lengths', () => {
  // An inch is 25.4 mm and a foot twelve of them exactly (international yard and pound agreement, 1959).
  it.each([
    ['0.1mm', 0.0001],
    ['1 in', 0.0254],
    ['1ft', 0.3048],
    ['12 inch', 0.3048],
    ['.5', 0.0005],
    ['2e-1 m', 0.2],
    ['30 µm', 0.00003],
    ['1,5 mm', 0.0015],
    ['1 000 mm', 1],
    ['1,500', 1.5],
    ['3"', 0.0762],
    ['2′', 0.6096],
    ['1\' 6"', 0.4572],
    ["1' 6", 0.4572],
    ['1\'-6 1/2"', 0.4699],
    ['1 ft 6 in', 0.4572],
    ['1/2 in', 0.0127],
    ['1 1/2"', 0.0381],
    ['2-3/8 in', 0.060325],
    ['-3"', -0.0762],
    ['6 inches', 0.1524],
    ['1/4 m', 0.25],
  ])('%s is read', (text, metres) => expect(parseLength(text)).toBeCloseTo(metres, 12));
  it.each(['', 'mm', '1 parsec', '1 2 mm', 'NaN', "'", '"', '1/0 in', "6 in 1'", '5 "mm'])('%j is no length', (text) =>
    expect(parseLength(text)).toBeUndefined(),
  );
  it('that are bare are in the unit of the field', () => {
    expect(parseLength('2', 'm')).toBe(2);
    expect(parseLength('2', 'in')).toBeCloseTo(0.0508, 12);
  });
});

it('angles are in degrees unless it is said otherwise', () => {
  expect(parseAngle('180')).toBeCloseTo(Math.PI);
  expect(parseAngle('22,5°')).toBeCloseTo(Math.PI / 8);
  expect(parseAngle('90 deg')).toBeCloseTo(Math.PI / 2);
  expect(parseAngle('1rad')).toBe(1);
  expect(parseAngle('right')).toBeUndefined();
});
