/** Faces of a mesh that get materials of their own: their triangles go into slots of their own, and everything else stays as it is. */
import type { Surface as ExactSurface } from '../measure/exactShape.ts';
import { faceAround } from '../measure/faceRegion.ts';
import type { Vector } from '../scene/matrix.ts';
import type { MeshFigures } from '../scene/types.ts';
import { boundsOf, figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { neighboursOf, normalOf } from './region.ts';
import { slotOfTriangles, sortedBySlot } from './slots.ts';
import { distanceFromTriangle } from './triangleDistance.ts';

/** A face as it was pointed at: it is found again on another mesh of the same part. */
export interface FaceSeed {
  /** A point on it, metres, and the direction that it looks in there; in the frame of the geometry. */
  at: Vector;
  normal: Vector;
  /** Neighbours that turn by no more belong to it, radians, where it is not known what it lies on. */
  angle: number;
  /** What it lies on, in the frame of the geometry. */
  surface?: ExactSurface;
}

export interface PaintInput {
  /** Packed mesh. */
  mesh: Uint8Array;
  seeds: FaceSeed[];
}

/** A slot that was made: of which seed, and the slot that its triangles had. */
export interface PaintedSlot {
  seed: number;
  from: number;
}

export interface PaintOutput {
  blob: Uint8Array;
  figures: MeshFigures;
  /** In the order of the slots, which follow upon those that there were. */
  made: PaintedSlot[];
  /** Slots that there were. */
  before: number;
  /** Seeds that lie on no face of this mesh. */
  missed: number[];
}

/** A seed may lie off the mesh by so much of its size: a mesh that was reduced since then. */
const OFF_SHARE = 0.02;
/** Cosine of the angle up to which a triangle looks as the seed does: 60 degrees. */
const FACING = 0.5;

export async function paint({ mesh: packed, seeds }: PaintInput): Promise<PaintOutput> {
  const { mesh, ...rest } = painted(unpackMesh(packed), seeds);
  const blob = packMesh(mesh);
  return { blob, figures: figuresOf(mesh, blob.length), ...rest };
}

/** Where two seeds name the same triangle, it goes to the later one. */
export function painted(
  mesh: Mesh,
  seeds: readonly FaceSeed[],
): Omit<PaintOutput, 'blob' | 'figures'> & { mesh: Mesh } {
  const slots = slotOfTriangles(mesh);
  const before = slots.reduce((most, slot) => Math.max(most, slot + 1), 0);
  const owner = new Int32Array(slots.length).fill(-1);
  const neighbours = neighboursOf(mesh);
  const missed: number[] = [];
  for (const [i, seed] of seeds.entries()) {
    const triangle = triangleAt(mesh, seed);
    if (triangle === undefined) missed.push(i);
    else for (const one of faceAround(mesh, neighbours, triangle, seed)) owner[one] = i;
  }
  const made: PaintedSlot[] = [];
  const numbers = new Map<string, number>();
  const slotOf = Int32Array.from(slots, (from, triangle) => {
    const seed = owner[triangle];
    if (seed < 0) return from;
    const key = `${seed} ${from}`;
    let slot = numbers.get(key);
    if (slot === undefined) numbers.set(key, (slot = before + made.push({ seed, from }) - 1));
    return slot;
  });
  return { mesh: { ...mesh, ...sortedBySlot(mesh, slotOf, before + made.length) }, made, before, missed };
}

/** The triangle that a seed lies on: the nearest one that looks as it does. */
function triangleAt(mesh: Mesh, { at, normal }: FaceSeed): number | undefined {
  const { min, max } = boundsOf(mesh.positions);
  let nearest = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) * OFF_SHARE;
  let found: number | undefined;
  for (let triangle = 0; triangle < mesh.indices.length / 3; triangle++) {
    const distance = distanceFromTriangle(mesh.positions, mesh.indices, triangle, ...at);
    if (distance >= nearest) continue;
    const [x, y, z] = normalOf(mesh, triangle);
    if (x * normal[0] + y * normal[1] + z * normal[2] < FACING) continue;
    nearest = distance;
    found = triangle;
  }
  return found;
}
