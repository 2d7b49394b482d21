// Linkages against textbook formulas: slider-crank, four bars by the intersection of circles, a universal joint; and what cannot be reached.
import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { normalize, transformPoint } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { acrossTo } from '../measure/snap.ts';
import { randomNumbers } from '../testing/random.ts';
import type { Joint, JointKind, Seat } from './joint.ts';
import { leastStep } from './leastStep.ts';
import { Linkage } from './linkage.ts';

const Z: Vector = [0, 0, 1];
const seat = (point: Vector, axis: Vector): Seat => ({
  point,
  axis: normalize(axis),
  across: acrossTo(normalize(axis)),
});
function joint(
  name: string,
  kind: JointKind,
  base: number,
  part: number,
  point: Vector,
  axis: Vector = Z,
  limits: Partial<Joint> = {},
): Joint {
  return { name, kind, base, part, inBase: seat(point, axis), inPart: seat(point, axis), ...limits };
}
/** Crank (0), rod (1) and piston (2) along x, drawn at an angle of the crank. */
function sliderCrank(r: number, l: number, at = 0.3, limits: Partial<Joint> = {}): Joint[] {
  const pin: Vector = [r * Math.cos(at), r * Math.sin(at), 0];
  const wrist: Vector = [r * Math.cos(at) + Math.sqrt(l * l - (r * Math.sin(at)) ** 2), 0, 0];
  return [
    joint('Shaft', 'hinge', -1, 0, [0, 0, 0]),
    joint('Pin', 'hinge', 0, 1, pin),
    joint('Wrist', 'hinge', 1, 2, wrist),
    joint('Bore', 'slide', -1, 2, wrist, [1, 0, 0], limits),
  ];
}

describe('a slider-crank', () => {
  // x = r cos θ + √(l² - r² sin² θ): any textbook of machine dynamics.
  const where = (r: number, l: number, angle: number) => r * Math.cos(angle) + Math.sqrt(l * l - (r * Math.sin(angle)) ** 2);

  it.each([[0.05, 0.15], [0.05, 0.06], [12, 40]])('of r %d and l %d m is where the formula has it, over two turns', (r, l) => {
    const start = 0.3;
    const linkage = new Linkage(sliderCrank(r, l, start), 3, 0);
    let worst = 0;
    let count = 0;
    const driven = linkage.drive(4 * Math.PI, (value, { values, moves }) => {
      const way = where(r, l, start + value) - where(r, l, start);
      // Both by the number of the joint, and by where the piston has gone.
      worst = Math.max(worst, Math.abs(values[3] - way), Math.abs(transformPoint(moves[2], [0, 0, 0])[0] - way));
      count++;
    });
    expect(driven).toMatchObject({ reached: 4 * Math.PI });
    expect(driven.stop).toBeUndefined();
    expect(count).toBeGreaterThanOrEqual(240);
    expect(worst / l).toBeLessThan(1e-9);
  });

  it('of a rod as long as the crank does not go over the point where it could fall either way unasked', () => {
    const driven = new Linkage(sliderCrank(0.05, 0.04, 0.3), 3, 0).drive(Math.PI);
    // r sin θ = l is as far as it goes.
    expect(driven.reached + 0.3).toBeCloseTo(Math.asin(0.04 / 0.05), 4);
    expect(driven.stop).toBe('further “Bore” would come apart');
  });

  it('stops at the end of what a joint may go, and says which', () => {
    const driven = new Linkage(sliderCrank(0.05, 0.15, 0.3, { least: -0.02 }), 3, 0).drive(3);
    expect(driven.stop).toBe('“Bore” is at its end, -20\u00a0mm');
    expect(driven.values[3]).toBeCloseTo(-0.02, 6);
  });

  it('is driven by the piston too, up to its dead points', () => {
    const linkage = new Linkage(sliderCrank(0.05, 0.15, 0.3), 3, 3);
    const out = linkage.drive(1);
    expect(out.reached).toBeCloseTo(0.2 - where(0.05, 0.15, 0.3), 6);
    expect(out.stop).toContain('would come apart');
    const back = linkage.drive(-0.05);
    expect(where(0.05, 0.15, 0.3 + back.values[0]) - where(0.05, 0.15, 0.3)).toBeCloseTo(-0.05, 9);
  });

  it('on a bed that nothing ties to the ground is driven on it: the base of the driver stands', () => {
    const joints = sliderCrank(0.05, 0.15).map((one) => ({ ...one, base: one.base < 0 ? 3 : one.base }));
    const driven = new Linkage(joints, 4, 0).drive(1);
    expect(driven.moves[3]).toEqual(new Linkage(joints, 4, 0).drive(0).moves[3]);
    expect(driven.values[3]).toBeCloseTo(where(0.05, 0.15, 1.3) - where(0.05, 0.15, 0.3), 9);
  });
}); // prettier-ignore

describe('four bars', () => {
  /** Where a dyad meets: the intersection of two circles, on the side of a turn to the left. */
  function meets([ax, ay]: number[], a: number, [bx, by]: number[], b: number): [number, number] | undefined {
    const d = Math.hypot(bx - ax, by - ay);
    const along = (a * a - b * b + d * d) / (2 * d);
    const up = a * a - along * along;
    if (up < 0) return undefined;
    const [ux, uy] = [(bx - ax) / d, (by - ay) / d];
    return [ax + along * ux - Math.sqrt(up) * uy, ay + along * uy + Math.sqrt(up) * ux];
  }
  /** Crank, coupler and rocker between two fixed points, drawn at an angle. */
  function fourBars(crank: number, coupler: number, rocker: number, frame: number, at: number): Joint[] {
    const a: Vector = [crank * Math.cos(at), crank * Math.sin(at), 0];
    const [x, y] = meets([a[0], a[1]], coupler, [frame, 0], rocker)!;
    return [
      joint('A', 'hinge', -1, 0, [0, 0, 0]),
      joint('B', 'hinge', 0, 1, a),
      joint('C', 'hinge', 1, 2, [x, y, 0.01]),
      joint('D', 'hinge', -1, 2, [frame, 0, 0]),
    ];
  }

  it('stand where two circles meet, for random crank-rockers, over a whole turn', () => {
    const random = randomNumbers(5);
    for (let i = 0; i < 12; i++) {
      // Grashof: the crank goes round.
      const [crank, coupler, rocker, frame] = [0.2 + 0.1 * random(), 0.9 + 0.2 * random(), 0.8 + 0.2 * random(), 1];
      const at = random() * 6;
      const joints = fourBars(crank, coupler, rocker, frame, at);
      const c = joints[2].inBase.point;
      let worst = 0;
      const driven = new Linkage(joints, 3, 0).drive(2 * Math.PI, (value, { moves }) => {
        const end = [crank * Math.cos(at + value), crank * Math.sin(at + value)];
        const [x, y] = meets(end, coupler, [frame, 0], rocker)!;
        for (const body of [1, 2]) worst = Math.max(worst, Math.hypot(...transformPoint(moves[body], c).map((v, k) => v - [x, y, 0.01][k])));
      });
      expect(driven.stop).toBeUndefined();
      expect(worst).toBeLessThan(1e-8);
    }
  });

  it('as a parallelogram stay one through the points where all lie on one line', () => {
    const joints = fourBars(0.3, 1, 0.3, 1, 1);
    const driven = new Linkage(joints, 3, 0).drive(2 * Math.PI - 0.5, (_, { values }) => expect(values[3]).toBeCloseTo(values[0], 6));
    expect(driven.stop).toBeUndefined();
  });

  it('that cannot go round stop where the circles no longer meet', () => {
    // Crank and coupler in line with the rocker stretched: the law of cosines says where.
    const [crank, coupler, rocker, frame, at] = [1, 0.6, 0.7, 1, 1];
    const driven = new Linkage(fourBars(crank, coupler, rocker, frame, at), 3, 0).drive(Math.PI);
    const limit = Math.acos((crank ** 2 + frame ** 2 - (coupler + rocker) ** 2) / (2 * crank * frame));
    expect(driven.reached + at).toBeCloseTo(limit, 4);
    expect(driven.stop).toContain('would come apart');
  });

  it('with axes that are a little out of true still move, and say how far they are apart; strict ones are strict', () => {
    const joints = fourBars(0.25, 1, 0.9, 1, 0.8);
    const tilted: Vector = [4e-4, 3e-4, 1];
    const loose = joints.map((one, i) => (i === 2 ? joint('C', 'hinge', 1, 2, one.inBase.point, tilted) : one));
    const driven = new Linkage(loose, 3, 0).drive(Math.PI);
    expect(driven.stop).toBeUndefined();
    expect(driven.gap).toBeGreaterThan(1e-6);
    expect(driven.gap).toBeLessThan(1e-3);
    expect(new Linkage(joints, 3, 0).drive(Math.PI).gap).toBeUndefined();
  });
}); // prettier-ignore

describe('what cannot move', () => {
  it('three bars in a triangle are locked, and say so', () => {
    const joints = [
      joint('A', 'hinge', -1, 0, [0, 0, 0]),
      joint('B', 'hinge', 0, 1, [1, 1, 0]),
      joint('C', 'hinge', -1, 1, [2, 0, 0]),
    ];
    const driven = new Linkage(joints, 2, 0).drive(1);
    expect(Math.abs(driven.reached)).toBeLessThan(1e-9);
    expect(driven.stop).toBe('it is locked: “C” would come apart');
  });

  it('joints that were moved apart are a fault', () => {
    const [shaft, ...rest] = sliderCrank(0.05, 0.15);
    const apart = { ...shaft, inPart: seat([0.012, 0, 0], Z) };
    const linkage = new Linkage([apart, ...rest], 3, 0);
    expect(linkage.fault).toBe(
      '“Shaft” is 12\u00a0mm apart: its parts were moved away from each other after it was named.',
    );
    expect(linkage.drive(1)).toMatchObject({ reached: 0, stop: linkage.fault });
  });
});

it('a hinge that stands beyond half a turn is counted as its limits have it', () => {
  const quarterBack = { ...seat([0, 0, 0], Z), across: [acrossTo(Z)[1], -acrossTo(Z)[0], 0] as Vector };
  const hinge = (limits: Partial<Joint>) => ({
    ...joint('A', 'hinge', -1, 0, [0, 0, 0], Z, limits),
    inPart: quarterBack,
  });
  const start = (limits: Partial<Joint>) => new Linkage([hinge(limits)], 1, 0).start;
  expect(start({})).toBeCloseTo(-Math.PI / 2, 12);
  expect(start({ least: 0, greatest: 1.6 * Math.PI })).toBeCloseTo(1.5 * Math.PI, 12);
  expect(start({ least: -4 * Math.PI, greatest: -2 * Math.PI })).toBeCloseTo(-2.5 * Math.PI, 12);
  // Out of reach of its limits it is where it is, and cannot be driven.
  expect(start({ least: 0, greatest: 1 })).toBeCloseTo(-Math.PI / 2, 12);
  expect(new Linkage([hinge({ least: 0, greatest: 1 })], 1, 0).drive(0.5).stop).toBe('“A” is at its end, 0°');
});

it('a driver on something that moves with it is a fault', () => {
  expect(new Linkage([joint('A', 'hinge', 0, 0, [0, 0, 0])], 1, 0).fault).toBe(
    '“A” is on something that moves with it.',
  );
});

it('an open chain goes with its driver, and what is free in it stays as it is', () => {
  const joints = [joint('A', 'hinge', -1, 0, [0, 0, 0]), joint('B', 'hinge', 0, 1, [1, 0, 0], [1, 0, 0])];
  const { moves, values } = new Linkage(joints, 2, 0).drive(Math.PI / 2);
  expect(values).toEqual([Math.PI / 2, 0]);
  [[0, 2, 0]].forEach(([x, y, z]) =>
    transformPoint(moves[1], [2, 0, 0]).forEach((value, i) => expect(value).toBeCloseTo([x, y, z][i], 12)),
  );
});

it('a universal joint turns its second shaft as Hooke has it: tan β = tan α · cos γ', () => {
  // Two shafts at an angle with a cross between: textbook, Cardan joint.
  const gamma = 0.5;
  const second: Vector = [0, Math.sin(gamma), Math.cos(gamma)];
  const joints = [
    joint('First', 'hinge', -1, 0, [0, 0, -1]),
    joint('Fork 1', 'hinge', 0, 1, [0, 0, 0], [1, 0, 0]),
    joint('Fork 2', 'hinge', 1, 2, [0, 0, 0], [0, Math.cos(gamma), -Math.sin(gamma)]),
    joint('Second', 'hinge', -1, 2, [0, Math.sin(gamma), Math.cos(gamma)], second),
  ];
  const driven = new Linkage(joints, 3, 0).drive(2 * Math.PI, (alpha, { values }) => {
    // The first fork lies across the plane of the shafts at the beginning: tan β = tan α · cos γ then.
    const beta = Math.atan2(Math.sin(alpha) * Math.cos(gamma), Math.cos(alpha));
    const off = values[3] - beta;
    expect(off - 2 * Math.PI * Math.round(off / (2 * Math.PI))).toBeCloseTo(0, 8);
  });
  expect(driven.stop).toBeUndefined();
});

it('solves the same however it stands in space', () => {
  const turn = new Quaternion().setFromAxisAngle(new Vector3(1, 2, 3).normalize(), 1.1);
  const put = (v: Vector, move: number): Vector => {
    const at = new Vector3(...v).applyQuaternion(turn);
    return [at.x + move * 4, at.y - move * 7, at.z + move * 1e3];
  };
  const joints = sliderCrank(0.05, 0.15).map((one) => joint(one.name, one.kind, one.base, one.part, put(one.inBase.point, 1), put(one.inBase.axis, 0)));
  const [there, here] = [joints, sliderCrank(0.05, 0.15)].map((list) => new Linkage(list, 3, 0).drive(2));
  there.values.forEach((value, i) => expect(value).toBeCloseTo(here.values[i], 9));
}); // prettier-ignore

it('the damped step is that of the normal equations', () => {
  // 2 x + y = 3 and x - y = 0 twice: x = y = 1.
  const step = leastStep([[2, 1], [1, -1], [1, -1]], [3, 0, 0], 0);
  step.forEach((value) => expect(value).toBeCloseTo(1, 12));
  // What nothing depends on stays.
  expect(leastStep([[1, 0]], [2], 1e-9)[1]).toBe(0);
}); // prettier-ignore
