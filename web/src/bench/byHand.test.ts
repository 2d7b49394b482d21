import { describe, expect, test } from 'vitest';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { transformPoint } from '@noble-prism/core/scene/matrix';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { movingHand, scalingHand, turningHand } from './byHand.ts';

const degrees = (angle: number) => (angle * 180) / Math.PI;
const close = (a: Vector, b: Vector) => expect(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])).toBeLessThan(1e-12);

describe('moving by hand', () => {
  test('what was taken goes where the pointer is, and is said in the unit of the job', () => {
    const { matrix, words } = movingHand('mm').follow([1, 2, 3], [1.5, 2, 2], false);
    close(transformPoint(matrix, [1, 2, 3]), [1.5, 2, 2]);
    expect(words).toBe('x, y, z: 500, 0, -1\u2009000 mm');
  });

  test('along one axis it is the one that it has gone farthest along', () => {
    const { value } = movingHand('m').follow([0, 0, 0], [0.2, -0.9, 0.5], true);
    expect(value).toEqual([0, -0.9, 0]);
  });
});

describe('turning by hand', () => {
  test('what was taken points where the pointer is, whatever their distances from the axis', () => {
    const fixed: Vector = [1, 1, 1];
    const axis: Vector = [1, 2, -2];
    const hand = turningHand(fixed, axis);
    const taken: Vector = [3, 1, 1.5];
    for (let turn = -170; turn <= 170; turn += 20) {
      // three.js turns it, and puts it farther out and along the axis: neither is of any matter.
      const turned = new Vector3(...taken).sub(new Vector3(...fixed));
      const unit = new Vector3(...axis).normalize();
      turned.applyQuaternion(new Quaternion().setFromAxisAngle(unit, (turn * Math.PI) / 180));
      const along = unit.clone().multiplyScalar(turned.dot(unit));
      const to = turned
        .sub(along)
        .multiplyScalar(2.5)
        .addScaledVector(unit, 7)
        .add(new Vector3(...fixed));
      // Asked for alone, not after the one before: the nearer of both ways round.
      const { value, matrix } = turningHand(fixed, axis).follow(taken, to.toArray(), false);
      expect(degrees(value)).toBeCloseTo(turn, 9);
      const own = new Matrix4().makeRotationAxis(unit, (turn * Math.PI) / 180);
      own.setPosition(new Vector3(...fixed).sub(new Vector3(...fixed).applyMatrix4(own)));
      own.elements.forEach((value, index) => expect(matrix[index]).toBeCloseTo(value, 12));
      expect(hand.fixed).toEqual(fixed);
    }
  });

  test('a drag round and round goes on counting, and back', () => {
    const hand = turningHand([0, 0, 0], [0, 1, 0]);
    const taken: Vector = [1, 0, 0];
    const at = (angle: number): Vector => [Math.cos(angle), 0, -Math.sin(angle)];
    let value = 0;
    for (let turn = 0; turn <= 800; turn += 40) ({ value } = hand.follow(taken, at((turn * Math.PI) / 180), false));
    expect(degrees(value)).toBeCloseTo(800, 9);
    for (let turn = 800; turn >= -400; turn -= 40) ({ value } = hand.follow(taken, at((turn * Math.PI) / 180), false));
    expect(degrees(value)).toBeCloseTo(-400, 9);
    // Another drag begins at nothing.
    expect(hand.follow([1, 0, 0], at(0.1), false).value).toBeCloseTo(0.1, 12);
  });

  test('in steps it turns by whole fifteens, and says so', () => {
    const { value, words } = turningHand([0, 0, 0], [0, 0, 1]).follow([1, 0, 0], [1, 0.55, 4], true);
    expect(degrees(value)).toBeCloseTo(30, 12);
    expect(words).toBe('30°');
  });

  test('a pointer on the axis turns nothing, and neither does what was taken on it', () => {
    expect(turningHand([0, 0, 0], [0, 0, 1]).follow([1, 0, 0], [0, 0, 5], false).value).toBe(0);
    expect(turningHand([0, 0, 0], [0, 0, 1]).follow([0, 0, 2], [1, 1, 0], false).value).toBe(0);
  });
});

describe('scaling by hand', () => {
  const fixed: Vector = [2, 0, 1];

  test('what was taken is as far away as the pointer, in its own direction', () => {
    const hand = scalingHand(fixed);
    const { value, matrix, words } = hand.follow([4, 0, 1], [7, 3, -5], false);
    expect(value).toBe(2.5);
    expect(words).toBe('× 2.5');
    close(transformPoint(matrix, [4, 0, 1]), [7, 0, 1]);
    close(transformPoint(matrix, fixed), fixed);
  });

  test('through the fixed point it stays larger than nothing; in steps it goes in tenths, and not to zero', () => {
    const hand = scalingHand(fixed);
    expect(hand.follow([4, 0, 1], [-9, 0, 1], false).value).toBe(1e-3);
    expect(hand.follow([4, 0, 1], [4.25, 0, 1], true).value).toBeCloseTo(1.1, 12);
    expect(hand.follow([4, 0, 1], [2.01, 0, 1], true).value).toBe(0.1);
  });

  test('what was taken at the fixed point has no direction', () => {
    expect(scalingHand(fixed).follow(fixed, [9, 9, 9], false).value).toBe(1);
  });
});
