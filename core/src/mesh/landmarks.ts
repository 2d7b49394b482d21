/** How far landmarks are from a mesh: whether what was picked on another mesh of the part is on this one too. */
import type { Landmark } from '../scene/spot.ts';
import { lengthOf, minus } from '../measure/circle.ts';
import { curvesOf } from '../measure/curves.ts';
import { nearestOnCurve } from '../measure/snapFeatures.ts';
import { boundsOf, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { distanceFromTriangle } from './triangleDistance.ts';

export interface LandmarksInput {
  /** Packed mesh. */
  mesh: Uint8Array;
  landmarks: Landmark[];
}

export interface LandmarksOutput {
  /** Of each, metres of the mesh: from the next corner, edge or face. */
  away: number[];
  /** Diagonal of the box of the mesh, metres. */
  size: number;
}

export async function landmarks({ mesh: packed, landmarks: sought }: LandmarksInput): Promise<LandmarksOutput> {
  const mesh = unpackMesh(packed);
  const { min, max } = boundsOf(mesh.indices.length > 0 ? mesh.positions : mesh.edges);
  return { away: sought.map((one) => awayFrom(mesh, one)), size: lengthOf(minus(max, min)) };
}

/** Circles are told as circles: points of one lie beside the chords of another mesh. */
function awayFrom({ positions, indices, edges }: Mesh, { at, of }: Landmark): number {
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
