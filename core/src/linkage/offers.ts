/** Shafts in holes of the same axis, between rows: where a hinge or a slide may be meant. */
import { lengthOf, minus, plus } from '../measure/circle.ts';
import type { ExactShape } from '../measure/exactShape.ts';
import { acrossTo } from '../measure/snap.ts';
import { stretchOf } from '../measure/stretch.ts';
import { dot, normalize, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { directionIn } from '../scene/spot.ts';
import type { Box } from '../scene/types.ts';

/** Solids that move as one, under the row that is linked. */
export interface OfferedBody {
  row: number;
  shapes: readonly { shape: ExactShape; place: Matrix }[];
}

export interface LinkOffer {
  /** Row with the shaft, and row with the hole. */
  shaft: number;
  hole: number;
  /** World, metres; in the middle of where both are. */
  point: Vector;
  axis: Vector;
  /** Metres. */
  radius: number;
  holeRadius: number;
  /** A point of the shaft's surface, world, metres. */
  onShaft: Vector;
}

/** A shaft or a hole in the world, from one end to the other along its axis. */
interface Round {
  body: number;
  isHole: boolean;
  point: Vector;
  axis: Vector;
  radius: number;
  from: number;
  to: number;
  /** A point of it. */
  on: Vector;
}

/** Axes are one within this share of the radius, and never within less than this, metres. */
const OFF = 2e-3;
const LEAST_OFF = 2e-6;
const PARALLEL = 1 - 1e-8;
/** A hole may be wider than its shaft by this share and this length: clearance, a bush that was left out. */
const WIDER = 0.12;
const CLEARANCE = 5e-4;
/** More are not compared with each other. */
const MOST = 4000;

/** The closest fit of each pair of rows on each axis, closest first. */
export function linkOffers(bodies: readonly OfferedBody[]): LinkOffer[] {
  const rounds = bodies.flatMap(({ shapes }, body) => shapes.flatMap(({ shape, place }) => roundsOf(shape, place, body)));
  if (rounds.length > MOST) return [];
  const shafts = rounds.filter(({ isHole }) => !isHole);
  const holes = rounds.filter(({ isHole }) => isHole);
  const found: LinkOffer[] = [];
  for (const shaft of shafts)
    for (const hole of holes) {
      const overlap = hole.body === shaft.body ? undefined : overlapOf(shaft, hole);
      if (!overlap) continue;
      const point = plus(shaft.point, shaft.axis, (overlap[0] + overlap[1]) / 2);
      found.push({ shaft: bodies[shaft.body].row, hole: bodies[hole.body].row, point, axis: shaft.axis, radius: shaft.radius, holeRadius: hole.radius, onShaft: shaft.on });
    }
  found.sort((a, b) => a.holeRadius - a.radius - (b.holeRadius - b.radius));
  return found.filter((offer, i) => !found.slice(0, i).some((other) => isSamePlace(offer, other)));
} // prettier-ignore

function isSamePlace(a: LinkOffer, b: LinkOffer): boolean {
  const isPair = (a.shaft === b.shaft && a.hole === b.hole) || (a.shaft === b.hole && a.hole === b.shaft);
  return isPair && Math.abs(dot(a.axis, b.axis)) > PARALLEL && offAxis(a.point, b.point, b.axis) < Math.max(LEAST_OFF, a.radius * OFF);
} // prettier-ignore

/** Distance of a point from an axis, metres. */
function offAxis(point: Vector, from: Vector, axis: Vector): number {
  const way = minus(point, from);
  return lengthOf(plus(way, axis, -dot(way, axis)));
}

/** From where to where both are, along the axis of the shaft; undefined where the shaft is not in the hole. */
function overlapOf(shaft: Round, hole: Round): [number, number] | undefined {
  if (hole.radius < shaft.radius * (1 - 1e-6) || hole.radius > shaft.radius * (1 + WIDER) + CLEARANCE) return undefined;
  const turned = dot(shaft.axis, hole.axis);
  if (Math.abs(turned) < PARALLEL) return undefined;
  if (offAxis(hole.point, shaft.point, shaft.axis) > Math.max(LEAST_OFF, shaft.radius * OFF)) return undefined;
  const start = dot(minus(hole.point, shaft.point), shaft.axis);
  const ends = [hole.from, hole.to].map((end) => start + Math.sign(turned) * end).sort((a, b) => a - b);
  const [from, to] = [Math.max(shaft.from, ends[0]), Math.min(shaft.to, ends[1])];
  // Ends that only touch are two rings side by side.
  return to - from > 0.1 * Math.min(shaft.to - shaft.from, hole.to - hole.from) ? [from, to] : undefined;
}

/** Cylinders of a solid in the world, faces of the same one together. */
function roundsOf({ faces }: ExactShape, place: Matrix, body: number): Round[] {
  const { stretch, isEven } = stretchOf(place);
  if (!isEven) return [];
  const out: Round[] = [];
  for (const { surface, isHollow, box } of faces) {
    if (surface.kind !== 'cylinder') continue;
    const point = transformPoint(place, surface.point);
    const axis = directionIn(place, surface.axis);
    const radius = surface.radius * stretch;
    const known = out.find(
      (one) =>
        one.isHole === isHollow &&
        Math.abs(one.radius - radius) < LEAST_OFF &&
        Math.abs(dot(one.axis, axis)) > PARALLEL &&
        offAxis(point, one.point, one.axis) < LEAST_OFF,
    );
    const own = known ?? {
      body,
      isHole: isHollow,
      point,
      axis,
      radius,
      from: Infinity,
      to: -Infinity,
      on: pointOn(surface, box, place),
    };
    for (const corner of cornersOf(box)) {
      const along = dot(minus(transformPoint(place, corner), own.point), own.axis);
      own.from = Math.min(own.from, along);
      own.to = Math.max(own.to, along);
    }
    if (!known) out.push(own);
  }
  return out;
}

/** Where a cylinder of a solid is: in the middle of its face, which may go but part of the way round. */
function pointOn(
  { point, axis, radius }: { point: Vector; axis: Vector; radius: number },
  box: Box,
  place: Matrix,
): Vector {
  const middle = [0, 1, 2].map((k) => (box.min[k] + box.max[k]) / 2) as unknown as Vector;
  const foot = plus(point, axis, dot(minus(middle, point), axis));
  const out = minus(middle, foot);
  const way = lengthOf(out) > radius * 0.01 ? normalize(out) : acrossTo(axis);
  return transformPoint(place, plus(foot, way, radius));
}

function cornersOf({ min, max }: Box): Vector[] {
  return [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [
    i & 1 ? max[0] : min[0],
    i & 2 ? max[1] : min[1],
    i & 4 ? max[2] : min[2],
  ]);
}
