/**
 * What of a mesh can be snapped to: corners, middles and centres of its curves, and the edges themselves. Found near a point by a grid
 * of cells, so that a mesh of a million triangles answers at once.
 */
import { cross, normalize } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import type { Box } from '../scene/types.ts';
import { lengthOf, minus, plus } from './circle.ts';
import type { Arc, Curve } from './curves.ts';
import { nearestOnArc, nearestOnSegment } from './nearest.ts';

export type SnapKind = 'corner' | 'middle' | 'centre' | 'edge' | 'face' | 'axis';

/** Something to snap to, in the frame of the mesh. */
export interface Feature {
  kind: SnapKind;
  point: Vector;
  /** The curve that it belongs to. */
  curve: Curve;
}

/** Cells along the longest side of the box of the edges. */
const CELLS = 128;
/** Cells that are looked through at most: a wide reach in a fine grid looks at all curves instead. */
const MOST_CELLS = 4096;
/** A curve whose box has no more is entered in all of them; another one along its way. */
const FEW_CELLS = 27;

export class SnapFeatures {
  readonly #cells = new Map<number, number[]>();
  readonly #origin: Vector;
  readonly #size: number;

  /** @param curves of the feature edges: `curvesOf` tells them apart, which takes a while for many */
  constructor(readonly curves: readonly Curve[]) {
    const low: [number, number, number] = [Infinity, Infinity, Infinity];
    const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    const boxes = curves.map(boxOf);
    for (const { min, max } of boxes)
      for (let axis = 0; axis < 3; axis++) {
        low[axis] = Math.min(low[axis], min[axis]);
        high[axis] = Math.max(high[axis], max[axis]);
      }
    this.#origin = low;
    this.#size = Math.max(...minus(high, low), 1e-9) / CELLS;
    curves.forEach((curve, number) => this.#enter(curve, number, boxes[number]));
  }

  /** Curves that come nearer to a point than a reach, or may. */
  near(point: Vector, reach: number): readonly Curve[] {
    // One cell more: curves are entered in steps of a cell, and may cut the corner of one that is not.
    const far = reach + this.#size;
    const from = this.#cellOf(plus(point, [-far, -far, -far]));
    const to = this.#cellOf(plus(point, [far, far, far]));
    if (cellsBetween(from, to) > MOST_CELLS) return this.curves;
    const found = new Set<number>();
    for (let x = from[0]; x <= to[0]; x++)
      for (let y = from[1]; y <= to[1]; y++)
        for (let z = from[2]; z <= to[2]; z++)
          for (const number of this.#cells.get(keyOf(x, y, z)) ?? []) found.add(number);
    return [...found].map((number) => this.curves[number]);
  }

  #enter(curve: Curve, number: number, { min, max }: Box): void {
    const [from, to] = [this.#cellOf(min), this.#cellOf(max)];
    if (cellsBetween(from, to) <= FEW_CELLS) {
      for (let x = from[0]; x <= to[0]; x++)
        for (let y = from[1]; y <= to[1]; y++) for (let z = from[2]; z <= to[2]; z++) this.#put(keyOf(x, y, z), number);
      return;
    }
    const points = curve.kind === 'edge' ? curve.ends : curve.isWhole ? pointsAround(curve) : curve.points;
    for (let i = 0; i + 1 < points.length; i++) {
      const way = minus(points[i + 1], points[i]);
      const steps = Math.max(1, Math.ceil(lengthOf(way) / this.#size));
      for (let step = 0; step <= steps; step++) {
        this.#put(keyOf(...this.#cellOf(plus(points[i], way, step / steps))), number);
      }
    }
  }

  #put(key: number, number: number): void {
    const list = this.#cells.get(key);
    if (!list) this.#cells.set(key, [number]);
    else if (list[list.length - 1] !== number) list.push(number);
  }

  #cellOf(point: Vector): [number, number, number] {
    const at = (axis: number) =>
      Math.max(-1, Math.min(CELLS + 1, Math.floor((point[axis] - this.#origin[axis]) / this.#size)));
    return [at(0), at(1), at(2)];
  }
}

/** Points of a whole circle, the first again at the end; chords that stand off by less than a hundredth of the radius. */
function pointsAround({ centre, normal, radius }: Arc): Vector[] {
  const x = normalize(cross(normal, Math.abs(normal[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]));
  const y = cross(normal, x);
  return Array.from({ length: 33 }, (_, i) => {
    const angle = (i / 32) * 2 * Math.PI;
    return plus(plus(centre, x, radius * Math.cos(angle)), y, radius * Math.sin(angle));
  });
}

/** The box of a curve; of a whole circle from its radius and how it is turned. */
function boxOf(curve: Curve): Box {
  if (curve.kind === 'arc' && curve.isWhole) {
    const { centre, normal, radius } = curve;
    const reach = normal.map((n) => radius * Math.sqrt(Math.max(0, 1 - n * n))) as unknown as Vector;
    return {
      min: minus(centre, reach) as [number, number, number],
      max: plus(centre, reach) as [number, number, number],
    };
  }
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const point of curve.kind === 'edge' ? curve.ends : curve.points)
    for (let axis = 0; axis < 3; axis++) {
      min[axis] = Math.min(min[axis], point[axis]);
      max[axis] = Math.max(max[axis], point[axis]);
    }
  return { min, max };
}

function cellsBetween(from: readonly number[], to: readonly number[]): number {
  return (to[0] - from[0] + 1) * (to[1] - from[1] + 1) * (to[2] - from[2] + 1);
}

/** Cells are numbered from -1 to {@link CELLS} + 1 along each side. */
const SIDE = CELLS + 3;
const keyOf = (x: number, y: number, z: number): number => ((x + 1) * SIDE + (y + 1)) * SIDE + z + 1;

/** What of a curve can be snapped to near a ray or a point; the nearest on the curve itself comes last. */
export function featuresOf(curve: Curve, near: Vector): Feature[] {
  if (curve.kind === 'edge') {
    const [a, b] = curve.ends;
    return [
      { kind: 'corner', point: a, curve },
      { kind: 'corner', point: b, curve },
      { kind: 'middle', point: plus(a, minus(b, a), 0.5), curve },
      { kind: 'edge', point: nearestOnSegment(a, b, near), curve },
    ];
  }
  const ends: Feature[] = curve.isWhole
    ? []
    : [
        { kind: 'corner', point: curve.points[0], curve },
        { kind: 'corner', point: curve.points[curve.points.length - 1], curve },
        { kind: 'middle', point: middleOfArc(curve), curve },
      ];
  return [
    ...ends,
    { kind: 'centre', point: curve.centre, curve },
    { kind: 'edge', point: nearestOnArc(curve, near), curve },
  ];
}

function middleOfArc({ centre, normal, radius, points }: Arc): Vector {
  const [first, last] = [normalize(minus(points[0], centre)), normalize(minus(points[points.length - 1], centre))];
  const half = normalize(plus(first, last));
  // Across the gap where both ends point away from each other; on the side where the arc is.
  const way: Vector = lengthOf(plus(first, last)) > 1e-6 ? half : cross(normal, first);
  const inner = points[Math.floor(points.length / 2)];
  const [one, other] = [plus(centre, way, radius), plus(centre, way, -radius)];
  return lengthOf(minus(one, inner)) <= lengthOf(minus(other, inner)) ? one : other;
}
