/**
 * Solves a linkage: bodies that hinge and slide on each other, one of whose joints is driven, closed loops too. The joints of a tree that
 * reaches all bodies carry a number each; the others close loops, and the numbers are found that close them: least squares with damping
 * (Levenberg 1944, Marquardt 1963) and the exact Jacobian, in small steps from where the linkage stands, so that it never jumps to
 * another way of being put together. What the loops leave free moves least.
 */
import { cross, dot, IDENTITY, multiply } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { minus } from '../measure/circle.ts';
import { formatAngle, formatLength } from '../units.ts';
import { apart, gapOf, movementIn, seatAt, valueOf } from './joint.ts';
import type { Joint, Seat } from './joint.ts';
import { leastStep } from './leastStep.ts';

export interface Position {
  /** What each body has done from where it stands, world. */
  moves: Matrix[];
  /** How far each joint has gone from where it was named: radians, turns counted on, or metres. */
  values: number[];
}

export interface Driven extends Position {
  /** Value of the driver that was reached. */
  reached: number;
  /** Metres that joints are apart at most, where no position closes them wholly: their axes are not quite parallel. */
  gap?: number;
  /** Why it goes no further, in words; nothing where the target was reached. */
  stop?: string;
}

/** So near is closed: of lengths as shares of the size of the linkage, of directions. */
const CLOSED = 1e-10;
/** So near is taken for closed where axes that should be parallel are not quite, as those that were read off a mesh. */
const LOOSE = 5e-4;
/** So far may joints have been moved apart, metres. */
const APART = 1e-6;
/** Longest steps of the driver, and shortest; of a slide as shares of the size of the linkage. */
const STEP = Math.PI / 60;
const SHORTEST = 1e-6;
const MOST_ROUNDS = 40;

/** A joint of the tree, from the body that is reached to the next one. */
interface Branch {
  joint: number;
  from: number;
  to: number;
  /** -1 where the tree goes from the part to its base. */
  sign: 1 | -1;
}

export class Linkage {
  readonly #branches: Branch[] = [];
  readonly #loops: number[] = [];
  /** Branches between what stands still and each body. */
  readonly #paths: number[][];
  /** Branches whose numbers are to be found. */
  readonly #open: number[];
  readonly #length: number;
  /** Of each joint at the beginning. */
  readonly #start: number[];
  /** Why it cannot be driven at all. */
  readonly fault: string | undefined;

  /** @param bodies how many there are. @param driver number of the joint that is driven */
  constructor(
    readonly joints: readonly Joint[],
    readonly bodies: number,
    readonly driver: number,
  ) {
    this.#length = sizeOf(joints);
    this.#start = joints.map((joint) => withinLimits(joint, valueOf(joint, joint.inBase, joint.inPart)));
    this.#paths = Array.from({ length: bodies }, () => []);
    this.#grow();
    this.#open = this.#branches.flatMap(({ joint }, i) => (joint === driver ? [] : [i]));
    const torn = [...this.#branches.map(({ joint }) => joint), ...this.#loops].find(
      (i) => apart(joints[i], joints[i].inBase, joints[i].inPart) > APART + CLOSED * this.#length,
    );
    if (this.#branches.every(({ joint }) => joint !== driver))
      this.fault = `“${joints[driver].name}” is on something that moves with it.`;
    else if (torn !== undefined) {
      const joint = joints[torn];
      const gap = formatLength(apart(joint, joint.inBase, joint.inPart), 'mm');
      this.fault = `“${joint.name}” is ${gap} apart: its parts were moved away from each other after it was named.`;
    }
  }

  /** Reaches body after body, the driver first, so that its number is free to be set; what is not reached is not driven. */
  #grow(): void {
    const { joints, driver } = this;
    // What nothing ties to what stands still is held at the base of the driver.
    const still = this.#tiedToStill() ? -1 : joints[driver].base;
    const reached = new Set([-1, still]);
    const used = new Set<number>();
    const enter = (joint: number, from: number, to: number, sign: 1 | -1) => {
      used.add(joint);
      reached.add(to);
      this.#branches.push({ joint, from, to, sign });
      this.#paths[to] = [...(from < 0 ? [] : this.#paths[from]), this.#branches.length - 1];
    };
    const order = [driver, ...joints.keys()];
    for (let grows = true; grows; ) {
      grows = false;
      for (const joint of order) {
        const { base, part } = joints[joint];
        if (used.has(joint) || reached.has(base) === reached.has(part)) continue;
        if (reached.has(base)) enter(joint, base, part, 1);
        else enter(joint, part, base, -1);
        grows = true;
        break;
      }
    }
    for (const [joint, { base, part }] of joints.entries())
      if (!used.has(joint) && reached.has(base) && reached.has(part)) this.#loops.push(joint);
  }

  #tiedToStill(): boolean {
    const tied = new Set([this.joints[this.driver].base, this.joints[this.driver].part]);
    for (let grows = true; grows; ) {
      grows = false;
      for (const { base, part } of this.joints)
        if (tied.has(base) !== tied.has(part)) {
          tied.add(base).add(part);
          grows = true;
        }
    }
    return tied.has(-1);
  }

  /** Value of the driver where everything stands now. */
  get start(): number {
    return this.#start[this.driver];
  }

  /** Numbers of the bodies that the driver may move. */
  get driven(): number[] {
    return this.#branches.map(({ to }) => to);
  }

  /**
   * Drives to a value, from where everything stands.
   * @param along hears of each step on the way
   */
  drive(target: number, along?: (value: number, position: Position) => void): Driven {
    return this.driveFrom(undefined, target, along);
  }

  /** Drives on from a position that was reached before. */
  driveFrom(before: Driven | undefined, target: number, along?: (value: number, position: Position) => void): Driven {
    const strict = this.#driveWithin(CLOSED, before, target, along);
    const from = before?.reached ?? this.start;
    if (strict.stop === undefined || this.fault || Math.abs(strict.reached - from) > 1e-6) return strict;
    // Locked at once: perhaps only since it is not quite true. What is really locked stays so.
    const loose = this.#driveWithin(LOOSE, before, target, along);
    if (Math.abs(loose.reached - from) < 10 * LOOSE * (this.joints[this.driver].kind === 'hinge' ? 1 : this.#length)) return strict;
    const gaps = this.#loops.map((i) => apart(this.joints[i], ...this.#seats(i, loose.moves)));
    return { ...loose, gap: Math.max(...gaps) };
  }

  #driveWithin(tolerance: number, before: Driven | undefined, target: number, along?: (value: number, position: Position) => void): Driven {
    const driverBranch = this.#branches.findIndex(({ joint }) => joint === this.driver);
    const rest: Driven = before ?? { moves: this.#poses(this.#zeros()), values: [...this.#start], reached: this.start };
    if (this.fault) return { ...rest, stop: this.fault };
    const longest = this.joints[this.driver].kind === 'hinge' ? STEP : (STEP / 2) * this.#length;
    const shortest = this.joints[this.driver].kind === 'hinge' ? SHORTEST : SHORTEST * this.#length;
    let at = this.#zeros().map((_, i) => rest.values[this.#branches[i].joint] - this.#start[this.#branches[i].joint]);
    let now = rest;
    let last: { step: number; at: number[] } | undefined;
    let step = longest;
    let stop: string | undefined;
    while (now.reached !== target) {
      const left = target - now.reached;
      const by = Math.abs(left) <= step ? left : Math.sign(left) * step;
      const guess = at.map((value, i) => value + (last ? ((value - last.at[i]) / last.step) * by : 0));
      const value = Math.abs(left) <= step ? target : now.reached + by;
      guess[driverBranch] = value - this.#start[this.driver];
      const closed = this.#close(guess, tolerance);
      const next = closed && this.#positionOf(closed, now.values);
      const beyond = next && this.#beyond(next.values);
      if (closed && next && beyond === undefined && this.#isNear(at, closed, by)) {
        last = { step: by, at };
        at = closed;
        now = { ...next, reached: value };
        along?.(value, next);
        step = Math.min(longest, step * 2);
      } else if (step > shortest) step /= 4;
      else {
        stop = beyond ?? this.#stuckAt(guess, now.reached);
        break;
      }
    }
    return stop === undefined ? now : { ...now, stop };
  }

  /** No number may leap: that would be another way of being put together. */
  #isNear(before: readonly number[], after: readonly number[], by: number): boolean {
    // Near a dead point the others go far faster than the driver, but not from one side to the other.
    const most = Math.max(0.35, Math.abs(by) * 8);
    return this.#branches.every(({ joint }, i) => {
      const leap = Math.abs(after[i] - before[i]);
      return (this.joints[joint].kind === 'hinge' ? leap : leap / this.#length) <= most;
    });
  }

  /** What is beyond its limit, in words. */
  #beyond(values: readonly number[]): string | undefined {
    for (const [i, { name, kind, least = -Infinity, greatest = Infinity }] of this.joints.entries()) {
      const slack = kind === 'hinge' ? 1e-9 : 1e-9 * this.#length;
      if (values[i] < least - slack) return `“${name}” is at its end, ${said(kind, least)}`;
      if (values[i] > greatest + slack) return `“${name}” is at its end, ${said(kind, greatest)}`;
    }
    return undefined;
  }

  #stuckAt(guess: readonly number[], reached: number): string {
    const isLocked = Math.abs(reached - this.start) < 1e-9;
    const moves = this.#poses(guess);
    const wide = this.#loops.map((i) => ({ i, gap: apart(this.joints[i], ...this.#seats(i, moves)) }));
    const widest = wide.sort((a, b) => b.gap - a.gap)[0];
    const name = widest ? `“${this.joints[widest.i].name}”` : 'a joint';
    return isLocked ? `it is locked: ${name} would come apart` : `further ${name} would come apart`;
  }

  /** Numbers that close all loops as well as can be, beginning with a guess; undefined where that is not within the tolerance. */
  #close(guess: readonly number[], tolerance: number): number[] | undefined {
    const q = [...guess];
    let gaps = this.#gaps(q);
    let size = squares(gaps);
    let damping = 1e-9;
    const isWithin = (most: number) => gaps.every((gap) => Math.abs(gap) < most);
    for (let round = 0; round < MOST_ROUNDS && this.#open.length > 0 && !isWithin(CLOSED) && damping < 1e6; round++) {
      const by = leastStep(this.#jacobian(q), gaps, damping);
      const tried = [...q];
      this.#open.forEach((branch, i) => (tried[branch] -= by[i]));
      const triedGaps = this.#gaps(tried);
      const next = squares(triedGaps);
      // What gets no better any more is as good as it can be.
      if (next < size && next > size * 0.999 && isWithin(tolerance)) break;
      if (next < size) {
        tried.forEach((value, i) => (q[i] = value));
        [gaps, size] = [triedGaps, next];
        damping = Math.max(1e-12, damping / 10);
      } else damping *= 10;
    }
    return isWithin(tolerance) ? q : undefined;
  }

  #zeros(): number[] {
    return this.#branches.map(() => 0);
  }

  /** What each body does when the joints of the tree have gone so far from where they stand. */
  #poses(q: readonly number[]): Matrix[] {
    const moves = Array.from({ length: this.bodies }, () => IDENTITY);
    for (const [i, { joint, from, to, sign }] of this.#branches.entries()) {
      const own = movementIn(this.joints[joint], this.#seatOf(i), sign * q[i]);
      moves[to] = from < 0 ? own : multiply(moves[from], own);
    }
    return moves;
  }

  /** The seat that a branch turns or slides in: that of the body it comes from. */
  #seatOf(branch: number): Seat {
    const { joint, sign } = this.#branches[branch];
    return sign === 1 ? this.joints[joint].inBase : this.joints[joint].inPart;
  }

  #seats(joint: number, moves: readonly Matrix[]): [Seat, Seat] {
    const { base, part, inBase, inPart } = this.joints[joint];
    return [base < 0 ? inBase : seatAt(moves[base], inBase), part < 0 ? inPart : seatAt(moves[part], inPart)];
  }

  #gaps(q: readonly number[]): number[] {
    const moves = this.#poses(q);
    return this.#loops.flatMap((joint) => gapOf(this.joints[joint], ...this.#seats(joint, moves), this.#length));
  }

  #positionOf(q: readonly number[], before: readonly number[]): Position {
    const moves = this.#poses(q);
    const values = this.joints.map((joint, i) => {
      const value = valueOf(joint, ...this.#seats(i, moves));
      // Turns are counted on: the value nearest to the last one.
      return joint.kind === 'hinge' ? value + 2 * Math.PI * Math.round((before[i] - value) / (2 * Math.PI)) : value;
    });
    return { moves, values };
  }

  /** Rows as the gaps stand, columns as the open branches: how each gap changes with each number. */
  #jacobian(q: readonly number[]): number[][] {
    const moves = this.#poses(q);
    /** Axis of each branch as it stands now, and a point on it; along which it moves what is behind it. */
    const screws = this.#branches.map(({ joint, from, sign }, i) => {
      const seat = this.#seatOf(i);
      const { point, axis } = from < 0 ? seat : seatAt(moves[from], seat);
      return { isSlide: this.joints[joint].kind === 'slide', point, axis: [axis[0] * sign, axis[1] * sign, axis[2] * sign] as Vector };
    });
    const column = new Map(this.#open.map((branch, i) => [branch, i]));
    const rows: number[][] = [];
    for (const loop of this.#loops) {
      const joint = this.joints[loop];
      const [base, part] = this.#seats(loop, moves);
      const height = joint.kind === 'hinge' ? 6 : 9;
      const block = Array.from({ length: height }, () => new Array<number>(this.#open.length).fill(0));
      for (const [body, seat, side] of [[joint.part, part, 1], [joint.base, base, -1]] as const) {
        if (body < 0) continue;
        for (const branch of this.#paths[body]) {
          const at = column.get(branch);
          if (at === undefined) continue;
          const { isSlide, axis, point } = screws[branch];
          const move = isSlide ? axis : cross(axis, minus(seat.point, point));
          const turn = (v: Vector): Vector => (isSlide ? [0, 0, 0] : cross(axis, v));
          const changes = changeOf(joint, base, part, side, move, turn, this.#length);
          changes.forEach((value, row) => (block[row][at] += value));
        }
      }
      rows.push(...block);
    }
    return rows;
  }
} // prettier-ignore

/** How the gap of a joint changes when one of its seats moves and turns. @param side 1 for the part, -1 for the base */
function changeOf({ kind }: Joint, base: Seat, part: Seat, side: 1 | -1, move: Vector, turn: (v: Vector) => Vector, length: number): number[] {
  const seat = side === 1 ? part : base;
  const axes = turn(seat.axis).map((value) => side * value);
  const ways: Vector = [side * move[0], side * move[1], side * move[2]];
  if (kind === 'hinge') return [...ways.map((value) => value / length), ...axes];
  const way = minus(part.point, base.point);
  const axis = base.axis;
  const turns = side === 1 ? ([0, 0, 0] as const) : turn(axis);
  const along = dot(way, axis);
  const change = dot(ways, axis) + dot(way, turns);
  const off = ways.map((value, i) => (value - change * axis[i] - along * turns[i]) / length);
  return [...off, ...axes, ...turn(seat.across).map((value) => side * value)];
} // prettier-ignore

/** A hinge that stands at -90° stands at 270° too: the one that its limits allow is meant. */
function withinLimits({ kind, least = -Infinity, greatest = Infinity }: Joint, value: number): number {
  if (kind === 'slide') return value;
  const turn = 2 * Math.PI;
  const up = value < least ? Math.ceil((least - value) / turn - 1e-9) * turn : 0;
  const down = value > greatest ? Math.ceil((value - greatest) / turn - 1e-9) * turn : 0;
  const moved = value + up - down;
  return moved >= least - 1e-9 && moved <= greatest + 1e-9 ? moved : value;
}

const squares = (values: readonly number[]) => values.reduce((sum, value) => sum + value * value, 0);
const said = (kind: Joint['kind'], value: number) =>
  kind === 'hinge' ? formatAngle(value) : formatLength(value, 'mm');

/** How far the joints reach, metres; one where they all lie on one point. */
function sizeOf(joints: readonly Joint[]): number {
  const points = joints.map(({ inBase }) => inBase.point);
  const spans = [0, 1, 2].map((axis) => {
    const values = points.map((point) => point[axis]);
    return Math.max(...values) - Math.min(...values);
  });
  return Math.hypot(...spans) || 1;
}
