/** The axis of a face of a mesh, by the cylinder that fits its corners best. */
import { fitCylinder } from '@noble-prism/core/measure/cylinder';
import type { PickedFace } from '@noble-prism/core/measure/face';
import type { Snap } from '@noble-prism/core/measure/snap';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { transformPoint } from '@noble-prism/core/scene/matrix';
import { directionIn, geometryPlace } from '@noble-prism/core/scene/spot';
import type { Scene } from '@noble-prism/core/scene/types';
import type { GeometryStore } from './geometry.ts';

/** Corners that are fitted at most: of more every so many-th is taken. */
const MOST = 20_000;
/** What lies farther off, as a share of the radius, is no cylinder that anybody means. */
const ROUND = 0.02;

/** @param meant where the face was clicked. Undefined where the face is not round */
export function fittedAxis(face: PickedFace, meant: Snap, scene: Scene, geometry: GeometryStore): Snap | undefined {
  const known = geometry.get(face.mesh);
  const indices = known?.surface.getIndex()?.array;
  const normals = known?.surface.getAttribute('normal')?.array;
  if (!known || !indices || !normals) return undefined;
  const place = geometryPlace(scene, face.row);
  const corners = new Set<number>();
  for (const triangle of face.triangles) for (let k = 0; k < 3; k++) corners.add(indices[triangle * 3 + k]);
  const every = Math.ceil(corners.size / MOST);
  const at = (values: ArrayLike<number>, vertex: number): Vector => [values[vertex * 3], values[vertex * 3 + 1], values[vertex * 3 + 2]]; // prettier-ignore
  const taken = [...corners].filter((_, i) => i % every === 0);
  const fit = fitCylinder(
    taken.map((vertex) => transformPoint(place, at(known.positions, vertex))),
    taken.map((vertex) => directionIn(place, at(normals, vertex))),
  );
  if (!fit || fit.worst > ROUND * fit.radius) return undefined;
  const { point, axis, radius, residual } = fit;
  const along = [0, 1, 2].reduce((sum, k) => sum + (meant.point[k] - point[k]) * axis[k], 0);
  return {
    kind: 'axis',
    point: [point[0] + along * axis[0], point[1] + along * axis[1], point[2] + along * axis[2]],
    axis,
    row: face.row,
    radius,
    off: residual,
    by: [{ at: meant.point, of: 'face' }],
  };
}
