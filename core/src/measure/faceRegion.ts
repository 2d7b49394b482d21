/** The triangles of a face around one of them: those that lie on its surface, or that turn by no more than an angle. */
import { regionAround, smoothRegion } from '../mesh/region.ts';
import type { Neighbours } from '../mesh/region.ts';
import type { Mesh } from '../mesh/mesh.ts';
import type { Vector } from '../scene/matrix.ts';
import { distanceFrom } from './exactShape.ts';
import type { Surface } from './exactShape.ts';

type Shape = Pick<Mesh, 'positions' | 'indices'>;

/** How far vertices may lie off an exact surface, metres: they are kept in single precision. @param at a point of the face */
export const offAt = (at: Vector) => Math.max((Math.hypot(...at) + 1e-3) * 4e-7, 1e-7);

/** Whether all corners of a triangle lie on a surface. @param off metres */
export function liesOn({ positions: p, indices }: Shape, surface: Surface, triangle: number, off: number): boolean {
  return [0, 1, 2].every((k) => {
    const i = indices[triangle * 3 + k] * 3;
    return (distanceFrom(surface, [p[i], p[i + 1], p[i + 2]]) ?? Infinity) <= off;
  });
}

/** @param angle radians; what counts where the surface is not known, or the mesh was reduced and lies elsewhere than its solid */
export function faceAround(
  mesh: Shape,
  neighbours: Neighbours,
  triangle: number,
  { surface, angle, at }: { surface?: Surface; angle: number; at: Vector },
): Uint32Array {
  const off = offAt(at);
  return surface && liesOn(mesh, surface, triangle, off)
    ? regionAround(neighbours, triangle, (one) => liesOn(mesh, surface, one, off))
    : smoothRegion(mesh, neighbours, triangle, angle);
}
