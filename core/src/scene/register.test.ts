// Known motions, with and without noise; what a least-squares fit leaves over cannot be made less by any small motion.
import { Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../testing/random.ts';
import { farthestBetween } from '../testing/trees.ts';
import { multiply, transformPoint } from './matrix.ts';
import type { Vector } from './matrix.ts';
import { register } from './register.ts';
import type { Registered } from './register.ts';
import { rotationAbout } from './rotation.ts';

const random = randomNumbers(8);
const vector = (size = 10): Vector => [(random() - 0.5) * size, (random() - 0.5) * size, (random() - 0.5) * size];

function motion(axis = new Vector3(...vector()).normalize(), far = 10): Matrix4 {
  return new Matrix4().compose(new Vector3(...vector(far)), new Quaternion().setFromAxisAngle(axis, random() * 6), new Vector3(1, 1, 1)); // prettier-ignore
}
const moved = (by: Matrix4, points: readonly Vector[]) => points.map((from) => ({ from, to: new Vector3(...from).applyMatrix4(by).toArray() as Vector })); // prettier-ignore
const worst = ({ residuals }: Registered) => Math.max(...residuals);

describe('points brought onto points', () => {
  it('one is a move, two a turn about the vertical, more any turn: known motions are found again', () => {
    for (let run = 0; run < 50; run++) {
      const move = new Matrix4().makeTranslation(...(vector(100) as [number, number, number]));
      expect(farthestBetween((register(moved(move, [vector()])) as Registered).matrix, move.toArray())).toBeLessThan(1e-12); // prettier-ignore
      const upright = motion(new Vector3(0, 1, 0));
      expect(farthestBetween((register(moved(upright, [vector(), vector()])) as Registered).matrix, upright.toArray())).toBeLessThan(1e-12); // prettier-ignore
      for (const count of [3, 4, 9]) {
        const any = motion();
        const found = register(
          moved(
            any,
            Array.from({ length: count }, () => vector()),
          ),
        ) as Registered;
        expect(farthestBetween(found.matrix, any.toArray())).toBeLessThan(1e-11);
        expect(worst(found)).toBeLessThan(1e-11);
      }
    }
  });

  it('far from the origin too', () => {
    const far = motion(undefined, 2e6);
    const found = register(moved(far, [vector(), vector(), vector()])) as Registered;
    expect(worst(found)).toBeLessThan(1e-8);
  });

  it('that do not fit leave the least that can be left, and say how much', () => {
    for (let run = 0; run < 10; run++) {
      const pairs = moved(motion(), Array.from({ length: 5 }, () => vector())).map(({ from, to }) => ({ from, to: to.map((value) => value + (random() - 0.5) * 0.02) as unknown as Vector })); // prettier-ignore
      const found = register(pairs) as Registered;
      const sum = (matrix: readonly number[]) => pairs.reduce((total, { from, to }) => {
        const there = transformPoint(matrix, from);
        return total + (there[0] - to[0]) ** 2 + (there[1] - to[1]) ** 2 + (there[2] - to[2]) ** 2;
      }, 0); // prettier-ignore
      const least = sum(found.matrix);
      expect(found.residuals.reduce((total, one) => total + one * one, 0)).toBeCloseTo(least, 12);
      for (let nudge = 0; nudge < 20; nudge++) {
        const turn = rotationAbout(new Vector3(...vector()).normalize().toArray(), 1e-4);
        const [x, y, z] = vector(1e-3);
        const other = multiply([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1], multiply(found.matrix, turn));
        expect(sum(other)).toBeGreaterThan(least);
      }
    }
  });

  it('two of other distances meet in the middle', () => {
    const found = register([{ from: [0, 0, 0], to: [5, 1, 0] }, { from: [2, 0, 0], to: [5, 1, -4] }]) as Registered; // prettier-ignore
    expect(found.residuals.map((one) => one.toFixed(9))).toEqual(['1.000000000', '1.000000000']);
  });

  const P: Vector[] = [[0, 0, 0], [1, 0, 0], [2, 0, 0], [0, 0, 0], [0, 3, 0]]; // prettier-ignore
  it.each([
    [[], 'There is no point'],
    [
      [
        { from: P[0], to: P[0] },
        { from: P[3], to: P[1] },
      ],
      'The moved points lie on one spot.',
    ],
    [
      [
        { from: P[0], to: P[1] },
        { from: P[1], to: P[1] },
      ],
      'The fixed points lie on one spot.',
    ],
    [
      [
        { from: P[0], to: P[0] },
        { from: P[4], to: P[1] },
      ],
      'The moved points stand one above the other',
    ],
    [[0, 1, 2].map((i) => ({ from: P[i], to: P[i] })), 'The moved points lie on one line'],
  ])('say why they cannot be: %#', (pairs, words) => expect(register(pairs)).toContain(words));
});
