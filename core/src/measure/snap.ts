/** What lies under the pointer, as a point that means something: a corner, a middle, a centre, an edge, a face; named for people. */
import { invert, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { formatLength } from '../units.ts';
import { lengthOf, minus } from './circle.ts';
import type { Curve } from './curves.ts';
import { featuresOf } from './snapFeatures.ts';
import type { SnapFeatures, SnapKind } from './snapFeatures.ts';

export interface Snap {
  kind: SnapKind;
  /** World, metres. */
  point: Vector;
  /** Row of the part. */
  row: number;
  /** Radius of the circle, metres, where it is one and the part is not stretched. */
  radius?: number;
  /** Length of the straight edge, metres. */
  length?: number;
}

export interface Aim {
  row: number;
  features: SnapFeatures;
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
export const REACH: Record<Exclude<SnapKind, 'face'>, number> = { corner: 12, centre: 12, middle: 10, edge: 8 };
const RANK: readonly SnapKind[] = ['corner', 'centre', 'middle', 'edge'];
const FARTHEST = 12;

/** What is meant at a point of a part; the point on the face where nothing else is near. */
export function snapAt(aim: Aim): Snap {
  const { row, features, world, point, pixels, metresPerPixel } = aim;
  const local = transformPoint(invert(world), point);
  const { stretch, isEven } = stretchOf(world);
  const reach = (FARTHEST * metresPerPixel) / stretch;
  let best: Snap | undefined;
  let rank = Infinity;
  let nearest = Infinity;
  for (const curve of features.near(local, reach))
    for (const { kind, point: found } of featuresOf(curve, local)) {
      const at = transformPoint(world, found);
      const away = pixels(at);
      const order = RANK.indexOf(kind);
      if (away > REACH[kind as Exclude<SnapKind, 'face'>] || order > rank || (order === rank && away >= nearest))
        continue;
      [rank, nearest] = [order, away];
      best = { kind, point: at, row, ...figuresOf(curve, world, isEven ? stretch : undefined) };
    }
  return best ?? { kind: 'face', point, row };
}

/** Whole circles and arcs under the pointer: their centres are offered for a while, though they lie over nothing. */
export function centresNear({ row, features, world, point, pixels, metresPerPixel }: Aim): Snap[] {
  const local = transformPoint(invert(world), point);
  const { stretch, isEven } = stretchOf(world);
  return features.near(local, (FARTHEST * metresPerPixel) / stretch).flatMap((curve) => {
    if (curve.kind !== 'arc') return [];
    const rim = featuresOf(curve, local).at(-1)?.point;
    if (!rim || pixels(transformPoint(world, rim)) > REACH.edge) return [];
    const figures = figuresOf(curve, world, isEven ? stretch : undefined);
    return [{ kind: 'centre', point: transformPoint(world, curve.centre), row, ...figures } satisfies Snap];
  });
}

/** What was snapped to, in words. @param unit that people said lengths in */
export function snapWords({ kind, radius, length }: Snap, unit: string): string {
  const circle = radius === undefined ? '' : `, r ${formatLength(radius, unit, 5)}`;
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
  }
}

function figuresOf(curve: Curve, world: Matrix, stretch: number | undefined): Pick<Snap, 'radius' | 'length'> {
  if (curve.kind === 'arc') return stretch === undefined ? {} : { radius: curve.radius * stretch };
  const [a, b] = curve.ends.map((end) => transformPoint(world, end));
  return { length: lengthOf(minus(a, b)) };
}

/** How much a place makes longer, and whether the same in all directions. */
function stretchOf(world: Matrix): { stretch: number; isEven: boolean } {
  const lengths = [0, 4, 8].map((at) => Math.hypot(world[at], world[at + 1], world[at + 2]));
  const [low, high] = [Math.min(...lengths), Math.max(...lengths)];
  const isSquare = [[0, 4], [0, 8], [4, 8]].every(([a, b]) => Math.abs(world[a] * world[b] + world[a + 1] * world[b + 1] + world[a + 2] * world[b + 2]) < 1e-6 * high * high); // prettier-ignore
  return { stretch: high || 1, isEven: isSquare && high - low < 1e-6 * high };
}
