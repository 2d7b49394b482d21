/** What lies under the pointer, as a point that means something: a corner, a middle, a centre, an edge, a face; named for people. */
import { cross, invert, normalize, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { formatLength } from '../units.ts';
import { lengthOf, minus, plus } from './circle.ts';
import type { Curve } from './curves.ts';
import { exactCircle } from './exactShape.ts';
import type { ExactShape } from './exactShape.ts';
import type { Landmark } from './landmark.ts';
import { featuresOf } from './snapFeatures.ts';
import type { SnapFeatures, SnapKind } from './snapFeatures.ts';
import { stretchOf } from './stretch.ts';

export interface Snap {
  kind: SnapKind;
  /** World, metres. */
  point: Vector;
  /** Row of the part. */
  row: number;
  /** Radius of the circle, metres, where it is one and the part is not stretched. */
  radius?: number;
  /** Centre of the circle, world, metres. */
  centre?: Vector;
  /** Direction across the circle, or along the straight edge; world, length one. */
  axis?: Vector;
  /** True where the circle is that of the solid, and was not read off the mesh. */
  isExact?: true;
  /** How far the mesh lies off the cylinder that its axis was fitted by: the root of the mean square, metres. */
  off?: number;
  /** Length of the straight edge, metres. */
  length?: number;
  /** What of the part it was found by, world, metres. */
  by?: readonly Landmark[];
}

export interface Aim {
  row: number;
  features: SnapFeatures;
  /** What is exact in the solid that the mesh is of, where that is known. */
  exact?: ExactShape | undefined;
  /** Place of the mesh in the world. */
  world: Matrix;
  /** Where the pointer meets the part, world, metres. */
  point: Vector;
  /** Distance from the pointer on the screen, pixels. */
  pixels(point: Vector): number;
  /** Metres of a pixel at the part. */
  metresPerPixel: number;
}

/** So near, in pixels, is meant. What is rarer is meant from farther: a corner rather than the edge that it ends. */
export const REACH: Record<Exclude<SnapKind, 'face' | 'axis'>, number> = {
  corner: 12,
  centre: 12,
  middle: 10,
  edge: 8,
};
const RANK: readonly SnapKind[] = ['corner', 'centre', 'middle', 'edge'];
const FARTHEST = 12;

/** What is meant at a point of a part; the point on the face where nothing else is near. */
export function snapAt(aim: Aim): Snap {
  const { row, features, world, point, pixels, metresPerPixel, exact } = aim;
  const local = transformPoint(invert(world), point);
  const { stretch, isEven } = stretchOf(world);
  const reach = (FARTHEST * metresPerPixel) / stretch;
  let best: Snap | undefined;
  let rank = Infinity;
  let nearest = Infinity;
  for (const curve of features.near(local, reach).map((read) => refined(read, exact)))
    for (const { kind, point: found } of featuresOf(curve, local)) {
      const at = transformPoint(world, found);
      const away = pixels(at);
      const order = RANK.indexOf(kind);
      if (away > REACH[kind as keyof typeof REACH] || order > rank || (order === rank && away >= nearest)) continue;
      [rank, nearest] = [order, away];
      best = {
        kind,
        point: at,
        row,
        ...figuresOf(curve, world, isEven ? stretch : undefined, kind),
        by: landmarksOf(kind, curve, found, world),
      };
    }
  return best ?? onFace(row, point);
}

/** Whole circles and arcs under the pointer: their centres are offered for a while, though they lie over nothing. */
export function centresNear({ row, features, world, point, pixels, metresPerPixel, exact }: Aim): Snap[] {
  const local = transformPoint(invert(world), point);
  const { stretch, isEven } = stretchOf(world);
  return features.near(local, (FARTHEST * metresPerPixel) / stretch).flatMap((read) => {
    const curve = refined(read, exact);
    if (curve.kind !== 'arc') return [];
    const rim = featuresOf(curve, local).at(-1)?.point;
    if (!rim || pixels(transformPoint(world, rim)) > REACH.edge) return [];
    const figures = figuresOf(curve, world, isEven ? stretch : undefined);
    const by = landmarksOf('centre', curve, curve.centre, world);
    return [{ kind: 'centre', point: transformPoint(world, curve.centre), row, ...figures, by } satisfies Snap];
  });
}

/** The very point of a face. @param point world, metres */
export function onFace(row: number, point: Vector): Snap {
  return { kind: 'face', point, row, by: [{ at: point, of: 'face' }] };
}

/** What has to be there still, for the same to be found again. */
function landmarksOf(kind: SnapKind, curve: Curve, point: Vector, world: Matrix): Landmark[] {
  const all = (of: Landmark['of'], ...points: readonly Vector[]) => points.map((at) => ({ at: transformPoint(world, at), of })); // prettier-ignore
  if (kind === 'corner') return all('corner', point);
  // The ends of an arc may be where one that goes all the way round was cut: points of its rim are there in any case.
  if (curve.kind === 'arc') return curve.isWhole ? all('edge', curve.through) : all('edge', curve.points[0], curve.points[curve.points.length - 1]); // prettier-ignore
  return kind === 'middle' ? all('corner', ...curve.ends) : all('edge', point);
}

/** Three points on the circle that was snapped to, a third of a turn apart; none where it is no circle. */
export function onCircle({ centre, axis, radius }: Snap): [Vector, Vector, Vector] | undefined {
  if (!centre || !axis || radius === undefined) return undefined;
  const x = acrossTo(axis);
  const y = cross(axis, x);
  const at = (angle: number) => plus(plus(centre, x, radius * Math.cos(angle)), y, radius * Math.sin(angle));
  return [at(0), at((2 * Math.PI) / 3), at((4 * Math.PI) / 3)];
}

/** A direction across another, length one. */
export function acrossTo(axis: Vector): Vector {
  const least = axis.map(Math.abs).indexOf(Math.min(...axis.map(Math.abs)));
  return normalize(cross(axis, [least === 0 ? 1 : 0, least === 1 ? 1 : 0, least === 2 ? 1 : 0]));
}

/** What was snapped to, in words. @param unit that people said lengths in */
export function snapWords({ kind, radius, length, isExact, off }: Snap, unit: string): string {
  const by = isExact || off !== undefined ? '' : ' from the mesh';
  const circle = radius === undefined ? '' : `, r ${formatLength(radius, unit, 5)}${by}`;
  const edge = length === undefined ? '' : `, ${formatLength(length, unit, 5)}`;
  switch (kind) {
    case 'corner':
      return 'corner';
    case 'middle':
      return radius === undefined ? `middle of an edge${edge}` : `middle of an arc${circle}`;
    case 'centre':
      return `centre of a circle${circle}`;
    case 'edge':
      return radius === undefined ? `edge${edge}` : `on a circle${circle}`;
    case 'face':
      return 'on a face';
    case 'axis':
      return `axis${circle}${off === undefined ? '' : ` by least squares, ± ${formatLength(off, unit, 2)}`}`;
  }
}

/** A curve as the solid has it, where it is known. */
type Refined = Curve & { isExact?: true };

function refined(curve: Curve, exact: ExactShape | undefined): Refined {
  const circle = curve.kind === 'arc' && exact ? exactCircle(exact, curve) : undefined;
  return curve.kind === 'arc' && circle ? { ...curve, ...circle, isExact: true } : curve;
}

function figuresOf(curve: Refined, world: Matrix, stretch: number | undefined, kind?: SnapKind): Partial<Snap> {
  if (curve.kind === 'arc') {
    // Stretched unevenly, a circle is none.
    if (stretch === undefined) return {};
    const from = transformPoint(world, curve.centre);
    const axis = normalize(minus(transformPoint(world, plus(curve.centre, curve.normal)), from));
    return { radius: curve.radius * stretch, centre: from, axis, ...(curve.isExact ? { isExact: true } : {}) };
  }
  const [a, b] = curve.ends.map((end) => transformPoint(world, end));
  const length = lengthOf(minus(a, b));
  // A corner ends several edges: none of them is meant.
  return { length, ...(kind !== 'corner' && length > 0 ? { axis: normalize(minus(b, a)) } : {}) };
}
