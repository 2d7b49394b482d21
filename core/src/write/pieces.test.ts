// Numbers written digit by digit, against what JavaScript itself makes of them.
import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../testing/random.ts';
import { decimalsFor, Pieces } from './pieces.ts';

const written = (value: number, decimals: number) =>
  new TextDecoder().decode(new Pieces().number(value, decimals).bytes());

describe('pieces of text', () => {
  it.each([
    [0, 6, '0'], [-0, 6, '0'], [1, 0, '1'], [-1.5, 3, '-1.5'], [0.000001, 6, '0.000001'], [0.0000004, 6, '0'], [-0.0000004, 6, '0'],
    [1000000000, 2, '1000000000'], [999999999.995, 2, '1000000000'], [123456789012.25, 3, '123456789012.25'], [1e300, 3, '1e+300'], [NaN, 3, '0'],
    [0.1 + 0.2, 9, '0.3'], [10, 1, '10'], [100, 0, '100'],
  ])('%s with %s decimals is %s', (value, decimals, text) => expect(written(value, decimals)).toBe(text)); // prettier-ignore

  it.each([[1, 6, '1.'], [-2.5, 3, '-2.5'], [0, 4, '0.'], [1e-9, 3, '0.'], [1e20, 3, '100000000000000000000.'], [1.5e300, 3, '1.5E300'], [NaN, 3, '0.']])('as a real %s with %s decimals is %s', (value, decimals, text) => {
    expect(new TextDecoder().decode(new Pieces().real(value, decimals).bytes())).toBe(text);
  }); // prettier-ignore

  it('is the number that was meant, whatever it is', () => {
    const random = randomNumbers(7);
    const pieces = new Pieces();
    const meant: number[] = [];
    for (let i = 0; i < 50_000; i++) {
      const decimals = Math.floor(random() * 10);
      const value = (random() - 0.5) * 10 ** Math.floor(random() * 6);
      meant.push(Number(value.toFixed(decimals)) + 0);
      pieces.number(value, decimals).sign(10);
    }
    const found = new TextDecoder().decode(pieces.bytes()).trimEnd().split('\n').map(Number);
    const wrong = found.flatMap((value, i) => (Math.abs(value - meant[i]) <= Math.abs(meant[i]) * 1e-9 + 1e-10 ? [] : [[value, meant[i]]]));
    expect(wrong).toEqual([]);
  }); // prettier-ignore

  it('keeps what is written before and after a piece is full', () => {
    const pieces = new Pieces();
    for (let i = 0; i < 200_000; i++) pieces.whole(i).sign(10);
    pieces.text('ä'.repeat(2_000_000)).raw(new Uint8Array([65]));
    const { length } = pieces;
    const text = new TextDecoder().decode(pieces.bytes());
    expect(text.split('\n').slice(0, -1).map(Number)).toEqual(Array.from({ length: 200_000 }, (_, i) => i));
    expect(text.endsWith('äA')).toBe(true);
    expect(length).toBe(pieces.bytes().length);
  });

  it('gives lengths a ten-millionth of the largest', () => {
    expect(decimalsFor(1)).toBe(7);
    expect(decimalsFor(0.02)).toBe(9);
    expect(decimalsFor(5000)).toBe(4);
    expect(decimalsFor(0)).toBe(6);
  });
});
