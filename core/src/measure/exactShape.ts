/**
 * What is exact in a solid: the surfaces of its faces with their axes and radii, its circles, area, volume and centroid. The one place
 * where picking, snapping, pivots and measures ask for it; what stands behind it (see `solid/readExact.ts`) may be any kernel.
 */
import { dot } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import type { Box } from '../scene/types.ts';
import { lengthOf, minus, plus } from './circle.ts';
import type { Circle } from './circle.ts';

/** A surface that goes on beyond its face; metres, in the frame of the part's geometry, directions of length one. */
export type Surface =
  | { kind: 'plane'; point: Vector; axis: Vector }
  | { kind: 'cylinder'; point: Vector; axis: Vector; radius: number }
  /** The radius is that at the point; it grows by `slope` for each metre along the axis. */
  | { kind: 'cone'; point: Vector; axis: Vector; radius: number; slope: number }
  | { kind: 'sphere'; point: Vector; radius: number }
  | { kind: 'torus'; point: Vector; axis: Vector; radius: number; minor: number }
  | { kind: 'free' };

export interface ExactFace {
  surface: Surface;
  /** True where the material lies outside of what is round: a hole. */
  isHollow: boolean;
  /** A box that holds the face, metres; it may be a little larger. */
  box: Box;
  /** Square metres. */
  area: number;
}

export interface ExactShape {
  faces: readonly ExactFace[];
  /** Circles that edges lie on, each once. */
  circles: readonly Circle[];
  /** Square metres, and the centre of it. */
  area: number;
  areaCentre: Vector;
  /** Cubic metres, and the centre of it; none of a shape that is not closed. */
  volume?: number;
  centroid?: Vector;
}

/** An axis that something round turns about. */
export interface Axis {
  point: Vector;
  /** Length one. */
  direction: Vector;
  radius: number;
  isHollow: boolean;
}

/** Distance of a point from a surface, metres; none from a free one. */
export function distanceFrom(surface: Surface, point: Vector): number | undefined {
  if (surface.kind === 'free') return undefined;
  const from = minus(point, surface.point);
  if (surface.kind === 'sphere') return Math.abs(lengthOf(from) - surface.radius);
  const height = dot(from, surface.axis);
  const away = lengthOf(plus(from, surface.axis, -height));
  switch (surface.kind) {
    case 'plane':
      return Math.abs(height);
    case 'cylinder':
      return Math.abs(away - surface.radius);
    case 'cone':
      return Math.abs(away - Math.abs(surface.radius + surface.slope * height)) / Math.hypot(1, surface.slope);
    case 'torus':
      return Math.abs(Math.hypot(away - surface.radius, height) - surface.minor);
  }
}

/** Direction in which a surface faces at a point, up to its sign; none where it has none. */
export function normalAt(surface: Surface, point: Vector): Vector | undefined {
  if (surface.kind === 'free') return undefined;
  if (surface.kind === 'plane') return surface.axis;
  const from = minus(point, surface.point);
  if (surface.kind === 'sphere') return unitOf(from);
  const height = dot(from, surface.axis);
  const across = unitOf(plus(from, surface.axis, -height));
  if (!across) return undefined;
  if (surface.kind === 'cylinder') return across;
  if (surface.kind === 'cone') {
    // Beyond the apex the other half of the cone opens the other way.
    const side = surface.radius + surface.slope * height < 0 ? 1 : -1;
    return unitOf(plus(across, surface.axis, side * surface.slope));
  }
  return unitOf(minus(from, [across[0] * surface.radius, across[1] * surface.radius, across[2] * surface.radius]));
}

function unitOf(v: Vector): Vector | undefined {
  const length = lengthOf(v);
  return length > 1e-12 ? [v[0] / length, v[1] / length, v[2] / length] : undefined;
}

/** Cosine from which on a triangle faces as a surface does: within 40 degrees, as coarse triangles turn that much. */
const FACING = Math.cos((40 * Math.PI) / 180);

/**
 * The face that a point of a mesh of the solid lies on. None where no face comes near enough, or a free one may.
 * @param normal of the triangle there
 * @param tolerance how far the mesh may lie off the exact surface, metres
 */
export function faceAt({ faces }: ExactShape, point: Vector, normal: Vector, tolerance: number): ExactFace | undefined {
  let best: ExactFace | undefined;
  let nearest = tolerance;
  for (const face of faces) {
    if (!isWithin(face.box, point, tolerance)) continue;
    const distance = distanceFrom(face.surface, point);
    if (distance === undefined || distance > nearest) continue;
    const facing = normalAt(face.surface, point);
    if (!facing || Math.abs(dot(facing, normal)) < FACING) continue;
    nearest = distance;
    best = face;
  }
  return best;
}

function isWithin({ min, max }: Box, point: Vector, tolerance: number): boolean {
  for (let axis = 0; axis < 3; axis++)
    if (point[axis] < min[axis] - tolerance || point[axis] > max[axis] + tolerance) return false;
  return true;
}

/** The axis that a face turns about. */
export function axisOf({ surface, isHollow }: ExactFace): Axis | undefined {
  if (surface.kind !== 'cylinder' && surface.kind !== 'cone' && surface.kind !== 'torus') return undefined;
  const { point, axis, radius } = surface;
  return { point, direction: axis, radius, isHollow };
}

/** The exact circle that one read off a mesh stands for. */
export function exactCircle({ circles }: ExactShape, { centre, normal, radius }: Circle): Circle | undefined {
  // A mesh has the ends of its segments on the circle, in single precision, or rounded by a writer.
  const tolerance = Math.max(radius * 2e-3, 1e-7);
  return circles.find(
    (one) =>
      Math.abs(one.radius - radius) <= tolerance &&
      lengthOf(minus(one.centre, centre)) <= tolerance &&
      Math.abs(dot(one.normal, normal)) > 0.999,
  );
}
