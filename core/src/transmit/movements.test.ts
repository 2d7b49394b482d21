// Movements are compared by their own size: what is off in a model of three millimetres is off, and rounding in one of a kilometre is not.
import { describe, expect, it } from 'vitest';
import { composed } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { movementOff, sameMovements } from './movements.ts';
import type { Movement } from './movements.ts';

const moving = (times: number[], at: (time: number) => Matrix): Movement => ({ animation: 'Open', times, at });
const along = (x: number, turn = 0): Matrix => composed([x, 0, 0], [0, 0, Math.sin(turn / 2), Math.cos(turn / 2)], [1, 1, 1]); // prettier-ignore
const slide = (length: number, by = (share: number) => share) => moving([0, 1, 2], (time) => along(length * by(Math.min(1, time / 2)))); // prettier-ignore
const same = (a: Movement, b: Movement) => sameMovements([a], [b]);

describe('two movements', () => {
  it.each([0.003, 3, 3000])('of %d m are the same where they are off by less than a ten thousandth, and else not', (length) => {
    expect(same(slide(length), slide(length * (1 + 5e-5)))).toBe(true);
    expect(same(slide(length), slide(length * 1.001))).toBe(false);
    expect(same(slide(length), slide(length * 0.003))).toBe(false);
  }); // prettier-ignore

  it('that agree at the ends and the middle, and not at one key of many, are not the same', () => {
    const times = Array.from({ length: 101 }, (_, i) => i / 50);
    const way = (off: number) => moving(times, (time) => along(time + (Math.abs(time - 0.74) < 1e-9 ? off : 0)));
    expect(same(way(0), way(0))).toBe(true);
    expect(same(way(0), way(0.01))).toBe(false);
  });

  it('that go another way between their keys are not the same', () => {
    expect(
      same(
        slide(1),
        slide(1, (share) => share + 0.01 * Math.sin(share * 2 * Math.PI) ** 2),
      ),
    ).toBe(false);
  });

  it('that turn otherwise are not the same, whatever their way', () => {
    const turn = (angle: number) => moving([0, 1], (time) => along(time * 1000, time * angle));
    expect(same(turn(1), turn(1 + 1e-5))).toBe(true);
    expect(same(turn(1), turn(1.01))).toBe(false);
  });

  it('that jump are the same where times are rounded, and not where one goes straight', () => {
    const jump = (at: number) => moving([0, at, 2], (time) => along(time < at ? 0 : 1));
    expect(same(jump(1.2345678901), jump(Math.fround(1.2345678901)))).toBe(true);
    expect(movementOff(jump(1), jump(1.01))).toBeGreaterThan(0.5);
    expect(
      same(
        jump(1),
        moving([0, 1, 2], (time) => along(Math.min(1, time))),
      ),
    ).toBe(false);
  });

  it('far from the origin are off by what single precision leaves of it, and no more', () => {
    const far = (off: number) => moving([0, 1], (time) => along(700_000 + time + off));
    expect(same(far(0), far(0.03))).toBe(true);
    expect(same(far(0), far(0.5))).toBe(false);
  });

  it('of which one stands still are told apart from none', () => {
    const still = moving([0, 1], () => along(3));
    expect(sameMovements([still], [])).toBe(true);
    expect(sameMovements([slide(0.003)], [])).toBe(false);
    expect(sameMovements([slide(1)], [{ ...slide(1), animation: 'Shut' }])).toBe(false);
  });
});
