/** The curves that the feature edges of a mesh are made of: straight edges and arcs of circles, told apart from their segments. */
import type { Vector } from '../scene/matrix.ts';
import { circleThrough, fitCircle, lengthOf, minus } from './circle.ts';
import type { Circle } from './circle.ts';

export interface StraightEdge {
  kind: 'edge';
  ends: readonly [Vector, Vector];
}

export interface Arc extends Circle {
  kind: 'arc';
  /** Points in their order along it; none of a whole circle, which needs none. */
  points: readonly Vector[];
  isWhole: boolean;
  /** A point of the mesh that it goes through. */
  through: Vector;
}

export type Curve = StraightEdge | Arc;

/** Segments that meet at more than this are a corner, radians: an arc in eight pieces turns by 45 degrees at each. */
const CORNER = 50 * (Math.PI / 180);
/** Segments that turn by less are one straight edge, radians. */
const STRAIGHT = 0.1 * (Math.PI / 180);
/** An arc of fewer segments may be anything. */
const LEAST_SEGMENTS = 3;
/** Share of its radius that a point may lie off an arc: single precision and the rounding of exporters. */
const OFF = 1e-3;

/** @param edges two points (six numbers) for each segment, as a mesh keeps its feature edges */
export function curvesOf(edges: Float32Array): Curve[] {
  return chainsOf(edges).flatMap(partsOfChain);
}

interface Chain {
  points: Vector[];
  isClosed: boolean;
}

/** Segments one after the other, as far as two meet at a point without a corner. */
function chainsOf(edges: Float32Array): Chain[] {
  const points: Vector[] = [];
  const numbers = new Map<string, number>();
  const at = (i: number): number => {
    const key = `${edges[i]} ${edges[i + 1]} ${edges[i + 2]}`;
    let number = numbers.get(key);
    if (number === undefined) numbers.set(key, (number = points.push([edges[i], edges[i + 1], edges[i + 2]]) - 1));
    return number;
  };
  const segments: [number, number][] = [];
  const meeting: number[][] = [];
  const seen = new Set<string>();
  for (let i = 0; i + 5 < edges.length; i += 6) {
    const [a, b] = [at(i), at(i + 3)];
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    if (a === b || seen.has(key)) continue;
    seen.add(key);
    const number = segments.push([a, b]) - 1;
    (meeting[a] ??= []).push(number);
    (meeting[b] ??= []).push(number);
  }
  const used = new Uint8Array(segments.length);
  const other = (segment: number, point: number) => segments[segment][segments[segment][0] === point ? 1 : 0];
  /** The segment that goes on from another at a point; none at a corner or where several meet. */
  const onward = (segment: number, point: number): number => {
    if (meeting[point].length !== 2) return -1;
    const [first, second] = meeting[point];
    const next = first === segment ? second : first;
    const turn = angleBetween(minus(points[point], points[other(segment, point)]), minus(points[other(next, point)], points[point])); // prettier-ignore
    return turn < CORNER ? next : -1;
  };
  const chains: Chain[] = [];
  for (let start = 0; start < segments.length; start++) {
    if (used[start] === 1) continue;
    // Back to the beginning, or once around.
    let [segment, point] = [start, segments[start][0]];
    for (let next = onward(segment, point); next >= 0 && next !== start; next = onward(segment, point)) {
      segment = next;
      point = other(segment, point);
    }
    const isClosed = onward(segment, point) === start;
    const chain = [points[point]];
    let from = point;
    for (let next = segment; next >= 0 && used[next] === 0;) {
      used[next] = 1;
      from = other(next, from);
      chain.push(points[from]);
      next = onward(next, from);
    }
    if (isClosed) chain.pop();
    chains.push({ points: chain, isClosed });
  }
  return chains;
}

/** Straight edges and arcs of one chain. */
function partsOfChain({ points, isClosed }: Chain): Curve[] {
  const whole = isClosed ? arcOf(points, true) : undefined;
  if (whole) return [whole];
  // A closed chain of several is begun at a corner of its own: where a straight piece ends.
  const list = isClosed ? [...begunAtBreak(points)] : points;
  const out: Curve[] = [];
  let at = 0;
  while (at < list.length - 1) {
    const arc = longestArc(list, at);
    const end = arc ? at + arc.points.length - 1 : straightEnd(list, at);
    out.push(arc ?? { kind: 'edge', ends: [list[at], list[end]] });
    at = end;
  }
  return out;
}

/** The points of a closed chain, the first repeated, begun where its longest segment does. */
function* begunAtBreak(points: readonly Vector[]): Iterable<Vector> {
  let longest = 0;
  const lengthAt = (i: number) => lengthOf(minus(points[(i + 1) % points.length], points[i]));
  for (let i = 1; i < points.length; i++) if (lengthAt(i) > lengthAt(longest)) longest = i;
  for (let i = 0; i <= points.length; i++) yield points[(longest + i) % points.length];
}

/** The longest arc that begins at a point of a chain; none where that is straight or too short to tell. */
function longestArc(points: readonly Vector[], from: number): Arc | undefined {
  if (from + LEAST_SEGMENTS >= points.length) return undefined;
  const first = circleThrough(points[from], points[from + 1], points[from + 2]);
  // Nearly straight: no circle that anybody meant.
  const chord = lengthOf(minus(points[from + 2], points[from]));
  if (!first || first.radius > 100 * chord) return undefined;
  const isOn = (point: Vector) => distanceTo(first, point) <= OFF * first.radius;
  // Pieces of an arc are about equally long: what goes off along a tangent is not.
  const piece = lengthOf(minus(points[from + 1], points[from]));
  let end = from + 2;
  while (end + 1 < points.length && isOn(points[end + 1]) && lengthOf(minus(points[end + 1], points[end])) < 3 * piece)
    end++;
  return end - from < LEAST_SEGMENTS ? undefined : arcOf(points.slice(from, end + 1), false);
}

function arcOf(points: readonly Vector[], isWhole: boolean): Arc | undefined {
  if (points.length < (isWhole ? 5 : LEAST_SEGMENTS + 1)) return undefined;
  const fit = fitCircle(points);
  if (!fit || fit.residual > OFF * fit.radius) return undefined;
  const { centre, normal, radius } = fit;
  return { kind: 'arc', centre, normal, radius, points: isWhole ? [] : points, isWhole, through: points[0] };
}

function straightEnd(points: readonly Vector[], from: number): number {
  let end = from + 1;
  const along = minus(points[end], points[from]);
  while (end + 1 < points.length && angleBetween(along, minus(points[end + 1], points[end])) < STRAIGHT) end++;
  return end;
}

function distanceTo({ centre, normal, radius }: Circle, point: Vector): number {
  const from = minus(point, centre);
  const off = from[0] * normal[0] + from[1] * normal[1] + from[2] * normal[2];
  return Math.hypot(Math.sqrt(Math.max(0, lengthOf(from) ** 2 - off * off)) - radius, off);
}

function angleBetween(a: Vector, b: Vector): number {
  const [x, y, z] = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  return Math.atan2(Math.hypot(x, y, z), a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
}
