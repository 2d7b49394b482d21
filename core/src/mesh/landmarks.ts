/** How far landmarks are from a shape: whether what was picked on another shape of the part is on this one too. */
import { lengthOf, minus } from '../measure/circle.ts';
import { curvesOf } from '../measure/curves.ts';
import type { Landmark } from '../measure/landmark.ts';
import { nearestOnCurve } from '../measure/nearest.ts';
import { distanceFromTriangle } from './triangleDistance.ts';

/** What of a mesh matters here; metres. */
interface Shape {
  positions: Float32Array;
  indices: Uint32Array;
  /** Two points for each segment of a feature edge. */
  edges: Float32Array;
}

export interface LandmarksInput {
  shape: Shape;
  landmarks: Landmark[];
}

export interface LandmarksOutput {
  /** Of each, metres of the mesh: from the next corner, edge or face. */
  away: number[];
  /** Diagonal of the box of the mesh, metres. */
  size: number;
}

export async function landmarks({ shape, landmarks: sought }: LandmarksInput): Promise<LandmarksOutput> {
  return { away: sought.map((one) => awayFrom(shape, one)), size: sizeOf(shape) };
}

function sizeOf({ positions, indices, edges }: Shape): number {
  const points = indices.length > 0 ? positions : edges;
  const sides = [0, 1, 2].map((axis) => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = axis; i < points.length; i += 3) {
      low = Math.min(low, points[i]);
      high = Math.max(high, points[i]);
    }
    return Math.max(0, high - low);
  });
  return Math.hypot(...sides);
}

/** Circles are told as circles: points of one lie beside the chords of another mesh. */
function awayFrom({ positions, indices, edges }: Shape, { at, of }: Landmark): number {
  let nearest = Infinity;
  const take = (distance: number) => (nearest = Math.min(nearest, distance));
  const isOnEdges = edges.length > 0 && (of === 'edge' || indices.length === 0);
  if (of === 'corner')
    for (const points of [positions, edges])
      for (let i = 0; i < points.length; i += 3) take(lengthOf(minus([points[i], points[i + 1], points[i + 2]], at)));
  else if (isOnEdges) for (const curve of curvesOf(edges)) take(lengthOf(minus(nearestOnCurve(curve, at), at)));
  else
    for (let triangle = 0; triangle < indices.length / 3; triangle++) take(distanceFromTriangle(positions, indices, triangle, ...at)); // prettier-ignore
  return nearest;
}
