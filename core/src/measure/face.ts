/** One face of a part, as it is picked in the view: its triangles, where they stand, and the surface that they are of. */
import { areaOf } from '../mesh/region.ts';
import type { FaceSeed } from '../mesh/paint.ts';
import type { Neighbours } from '../mesh/region.ts';
import { dot, normalize, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { formatArea, formatLength } from '../units.ts';
import { minus, plus } from './circle.ts';
import { axisOf, faceAt } from './exactShape.ts';
import type { ExactFace, ExactShape } from './exactShape.ts';
import { faceAround, liesOn, offAt } from './faceRegion.ts';
import { stretchOf } from './stretch.ts';

export interface PickedFace {
  /** Row of the part, and the mesh whose triangles are meant. */
  row: number;
  mesh: string;
  triangles: Uint32Array;
  /** By what it is found again on another mesh of the part. */
  seed: FaceSeed;
  /** Square metres, in the world. */
  area: number;
  /** Its centre and the direction it looks in, world, metres. */
  centre: Vector;
  normal: Vector;
  /** True where the area is that of the solid's own face. */
  isExact: boolean;
  /** What it lies on, in the frame of the geometry, and how much larger it stands in the world; none where only the mesh is known. */
  face?: ExactFace;
  stretch: number;
  /** The axis that it turns about, world. */
  axis?: { point: Vector; direction: Vector };
}

export interface FaceAim {
  row: number;
  mesh: string;
  positions: Float32Array;
  indices: Uint32Array;
  neighbours: Neighbours;
  /** Triangle that was hit, and its normal and a point of it in the frame of the geometry. */
  triangle: number;
  normal: Vector;
  point: Vector;
  /** Place of the geometry in the world. */
  world: Matrix;
  exact: ExactShape | undefined;
  /** How far the mesh lies off its solid at most, metres. */
  deviation: number;
  /** Neighbours that turn by no more belong to a face of a mesh, radians. */
  angle: number;
}

/** Areas of a mesh and of its solid that differ by more are not of one face. */
const SAME_AREA = 0.05;

export function faceOf(aim: FaceAim): PickedFace {
  const { row, mesh, positions, indices, neighbours, triangle, normal, point, world, exact, deviation, angle } = aim;
  const off = offAt(point);
  const face = exact && faceAt(exact, point, normal, deviation + off);
  const isOn = face !== undefined && liesOn({ positions, indices }, face.surface, triangle, off);
  const surface = isOn ? face.surface : undefined;
  const triangles = faceAround({ positions, indices }, neighbours, triangle, { surface, angle, at: point });
  const placed = placedTriangles(positions, indices, triangles, world);
  const { area, centre } = areaOf(placed, triangles.keys());
  const { stretch, isEven } = stretchOf(world);
  const exactArea = isOn && isEven ? face.area * stretch * stretch : undefined;
  const isExact = exactArea !== undefined && Math.abs(exactArea - area) <= SAME_AREA * exactArea;
  const axis = isOn ? axisOf(face) : undefined;
  return {
    row,
    mesh,
    triangles,
    seed: { at: point, normal, angle, ...(surface ? { surface } : {}) },
    area: isExact ? exactArea : area,
    centre,
    normal: normalSum(placed),
    isExact,
    stretch: isEven ? stretch : NaN,
    ...(isOn ? { face } : {}),
    ...(axis ? { axis: inWorld(axis, world) } : {}),
  };
}

function inWorld({ point, direction }: { point: Vector; direction: Vector }, world: Matrix) {
  const from = transformPoint(world, point);
  return { point: from, direction: normalize(minus(transformPoint(world, plus(point, direction)), from)) };
}

/** The triangles alone, where they stand in the world. */
function placedTriangles(positions: Float32Array, indices: Uint32Array, triangles: Uint32Array, world: Matrix) {
  const out = new Float64Array(triangles.length * 9);
  let at = 0;
  for (const triangle of triangles)
    for (let i = triangle * 3; i < triangle * 3 + 3; i++, at += 3)
      out.set(transformPoint(world, [positions[indices[i] * 3], positions[indices[i] * 3 + 1], positions[indices[i] * 3 + 2]]), at); // prettier-ignore
  return { positions: out, indices: Uint32Array.from({ length: triangles.length * 3 }, (_, i) => i) };
}

/** Sum of the areas with their directions: where a face looks on the whole. Up where it looks everywhere, as a sphere does. */
function normalSum({ positions: p, indices }: { positions: Float64Array; indices: Uint32Array }): Vector {
  const sum: [number, number, number] = [0, 0, 0];
  let area = 0;
  for (let i = 0; i < indices.length * 3; i += 9) {
    const [ux, uy, uz] = [p[i + 3] - p[i], p[i + 4] - p[i + 1], p[i + 5] - p[i + 2]];
    const [vx, vy, vz] = [p[i + 6] - p[i], p[i + 7] - p[i + 1], p[i + 8] - p[i + 2]];
    const own = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    area += Math.hypot(...own);
    own.forEach((value, k) => (sum[k] += value));
  }
  return Math.sqrt(dot(sum, sum)) > 1e-6 * area ? normalize(sum) : [0, 1, 0];
}

/** `hole, r 12 mm, 0.03 m² (exact)`. @param unit that people said lengths in */
export function faceWords({ face, area, isExact, stretch, triangles }: PickedFace, unit: string): string {
  const size = `${formatArea(area, unit)}${isExact ? '' : ' of the mesh'}`;
  if (!face) return `${triangles.length === 1 ? 'one triangle' : `${triangles.length} triangles`}, ${size}`;
  const { surface, isHollow } = face;
  const length = (value: number) => (Number.isFinite(stretch) ? ` r ${formatLength(value * stretch, unit, 5)},` : '');
  switch (surface.kind) {
    case 'plane':
      return `plane, ${size}`;
    case 'cylinder':
      return `${isHollow ? 'hole' : 'shaft'},${length(surface.radius)} ${size}`;
    case 'cone':
      return `${isHollow ? 'countersink' : 'cone'}, ${size}`;
    case 'sphere':
      return `sphere,${length(surface.radius)} ${size}`;
    case 'torus':
      return `torus,${length(surface.radius)} ${size}`;
    case 'free':
      return `free surface, ${size}`;
  }
}
