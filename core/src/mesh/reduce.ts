/**
 * Reduces the triangles of one mesh, to a share or within an allowed deviation, by quadric edge collapse (Garland and Heckbert
 * 1997, as implemented by meshoptimizer), and measures what it did.
 */
import { MeshoptSimplifier } from 'meshoptimizer/simplifier';
import type { MeshFigures } from '../scene/types.ts';
import { measureDeviation } from './deviation.ts';
import type { Deviation } from './deviation.ts';
import { featureEdges } from './edges.ts';
import { boundsOf, figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh, MeshGroup } from './mesh.ts';
import { withNormals } from './normals.ts';
import { joinVertices, seamsOf, slotsOf } from './seams.ts';
import type { Pointed } from './seams.ts';
import { SNAP_SHARE, snapPositions } from './weld.ts';

/** Until what to reduce. */
export type ReduceTarget =
  | { until: 'share'; /** Share of triangles to keep, 0 to 1. */ share: number }
  | { until: 'deviation'; /** Largest measured deviation allowed, metres. */ deviation: number };

export interface ReduceInput {
  /** Packed mesh to reduce. */
  blob: Uint8Array;
  /** Packed mesh to measure against, where it is another one: the mesh as tessellated. */
  reference?: Uint8Array;
  target: ReduceTarget;
}

export interface ReduceOutput {
  blob: Uint8Array;
  figures: MeshFigures;
  /** Metres, two-sided, against the reference. */
  deviation: Deviation;
  /** Why more than the share is left, where it is. */
  short?: string;
}

/** Weight of the normals against the positions; found to keep shading without stopping too early. */
const NORMAL_WEIGHT = 0.5;
/** Weight of the texture coordinates: a shift by a tenth of the picture counts as much as a visible dent. */
const UV_WEIGHT = 0.5;
/** The reported error is no maximum, so the allowance is approached in steps. */
const ATTEMPTS = 6;

export async function reduce({ blob, reference, target }: ReduceInput): Promise<ReduceOutput> {
  await MeshoptSimplifier.ready;
  const mesh = unpackMesh(blob);
  const against = reference ? unpackMesh(reference) : mesh;
  if (target.until === 'share') {
    const { mesh: result = mesh, short } = reduceToShare(mesh, target.share);
    return { ...outputOf(result, measureDeviation(against, result, samplesFor(against))), ...(short ? { short } : {}) };
  }
  const within = withinDeviation(mesh, against, target.deviation);
  if (within) return outputOf(within.mesh, within.deviation);
  return outputOf(mesh, against === mesh ? { max: 0, mean: 0 } : measureDeviation(against, mesh, samplesFor(against)));
}

function outputOf(mesh: Mesh, deviation: Deviation): ReduceOutput {
  const packed = packMesh(mesh);
  return { blob: packed, figures: figuresOf(mesh, packed.length), deviation };
}

/** More samples on larger meshes, within what a person will wait for. */
function samplesFor(mesh: Mesh): { samples: number } {
  return { samples: Math.min(20_000, Math.max(800, mesh.indices.length / 3)) };
}

/** A mesh with its seams closed. */
interface Prepared extends Pointed {
  slotOfVertex: Uint16Array;
  /** 1 for vertices at which pictures, colours or slots meet; found when it is first asked for. */
  seams(): Uint8Array;
}

function prepare(received: Mesh): Prepared {
  const { min, max } = boundsOf(received.positions);
  const diagonal = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const snapped = snapPositions(received.positions, diagonal * SNAP_SHARE);
  // Loose triangles become one surface where nothing tells their corners apart.
  const joined = joinVertices({ mesh: received, ...snapped });
  const slotOfVertex = slotsOf(joined.mesh);
  let seams: Uint8Array | undefined;
  return { ...joined, slotOfVertex, seams: () => (seams ??= seamsOf(joined.mesh, joined.point, slotOfVertex)) };
}

/**
 * The bare collapse: indices left for a target count and an error relative to the size. What lies on one point with different normals
 * stays apart, which keeps shading, and stops early on loose or faceted triangles; `joined` lets such points collapse as one, but for
 * those where pictures, colours or slots meet.
 */
function collapse(
  { mesh, positions, seams }: Prepared,
  targetIndices: number,
  error: number,
  joined: boolean,
): Uint32Array {
  const { attributes, weights } = attributesOf(mesh);
  const [indices] = MeshoptSimplifier.simplifyWithAttributes(
    mesh.indices,
    positions,
    3,
    attributes,
    weights.length,
    weights,
    joined ? seams().map((seam) => seam * PROTECT) : null,
    targetIndices,
    error,
    joined ? ['Permissive'] : [],
  );
  return indices;
}

/** The library's mark for a vertex whose seam stays, even where points may collapse as one. */
const PROTECT = 2;

/** What must not be torn besides the shape: normals, and the first texture coordinates where there are some. */
function attributesOf({ normals, uvs, trueSize }: Mesh): { attributes: Float32Array; weights: number[] } {
  const weights = [NORMAL_WEIGHT, NORMAL_WEIGHT, NORMAL_WEIGHT];
  // Coordinates in metres follow from the place on the surface: what keeps the shape keeps them.
  const uv = trueSize ? undefined : uvs?.[0];
  if (!uv) return { attributes: normals, weights };
  const attributes = new Float32Array((normals.length / 3) * 5);
  for (let v = 0; v < normals.length / 3; v++) {
    attributes.set(normals.subarray(v * 3, v * 3 + 3), v * 5);
    attributes.set(uv.subarray(v * 2, v * 2 + 2), v * 5 + 3);
  }
  return { attributes, weights: [...weights, UV_WEIGHT, UV_WEIGHT] };
}

/**
 * A mesh with a share of its triangles, and why more are left where they are; no mesh where it has too few to lose any. Nothing is
 * measured.
 */
export function reduceToShare(mesh: Mesh, share: number): { mesh?: Mesh; short?: string } {
  const prepared = prepare(mesh);
  const { indices } = mesh;
  const target = Math.max(LEAST_INDICES, Math.round((indices.length / 3) * share) * 3);
  if (target >= indices.length) return {};
  let left = collapse(prepared, target, 1, false);
  if (!isReached(left, target)) {
    const joined = collapse(prepared, target, 1, true);
    if (joined.length < left.length)
      return { mesh: withNewNormals(compact(prepared, joined)), ...shortOf(prepared, joined, target) };
    left = indices.length > left.length ? left : indices;
  }
  return { mesh: compact(prepared, left), ...shortOf(prepared, left, target) };
}

/** A closed body has four triangles at least; that of a part which has any thickness is not worth fewer. */
const LEAST_INDICES = 12;
/** Indices of the twelve triangles of a box. */
const OF_A_BOX = 36;
/** A target counts as reached within this share: triangles go by twos. */
const REACHED = 1.05;
const isReached = (indices: Uint32Array, target: number) => indices.length <= target * REACHED + 6;

function shortOf({ mesh, seams }: Prepared, left: Uint32Array, target: number): { short?: string } {
  // A box has twelve triangles: nobody misses fewer.
  if (isReached(left, target) || left.length <= OF_A_BOX) return {};
  return {
    short: seams().some(Boolean)
      ? `${meeting(mesh)} meet along seams that are kept`
      : 'what is left are open borders and edges where more than two faces meet',
  };
}

/** What of a mesh can differ where its vertices meet: `texture coordinates and materials`. */
function meeting({ uvs, colours, groups }: Mesh): string {
  const there = [
    ...(uvs?.length ? ['texture coordinates'] : []),
    ...(colours ? ['colours'] : []),
    ...(groups.length > 1 ? ['materials'] : []),
  ];
  return there.length > 1 ? `${there.slice(0, -1).join(', ')} and ${there.at(-1)}` : there[0];
}

/** Normals anew, from the faces that are left: sharp beyond the crease angle, as where a file has none. */
function withNewNormals(mesh: Mesh): Mesh {
  const { edges, trueSize } = mesh;
  return { ...withNormals(mesh), edges, ...(trueSize ? { trueSize } : {}) };
}

interface Within {
  mesh: Mesh;
  deviation: Deviation;
}

/** Largest reduction whose measured deviation stays within the allowance; undefined where none does. */
function withinDeviation(mesh: Mesh, against: Mesh, allowed: number): Within | undefined {
  const prepared = prepare(mesh);
  const apart = approached(prepared, against, allowed, false);
  // Loose or faceted triangles hardly collapse by themselves; then they are tried as one.
  const little = !apart || apart.mesh.indices.length > mesh.indices.length * LITTLE;
  const joined = little && isLoose(prepared) ? approached(prepared, against, allowed, true) : undefined;
  const best = joined && (!apart || joined.mesh.indices.length < apart.mesh.indices.length) ? joined : apart;
  return best && best.mesh.indices.length < mesh.indices.length ? best : undefined;
}

/** More than this share left is little of a reduction. */
const LITTLE = 0.5;

function isLoose({ mesh, point }: Prepared): boolean {
  let points = 0;
  point.forEach((first, v) => (points += Number(first === v)));
  return mesh.positions.length / 3 > points;
}

/** The allowance is approached from the error that the library estimates. */
function approached(prepared: Prepared, against: Mesh, allowed: number, joined: boolean): Within | undefined {
  const scale = MeshoptSimplifier.getScale(prepared.positions, 3) || 1;
  let error = allowed / scale;
  for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
    const left = compact(prepared, collapse(prepared, 0, error, joined));
    const candidate = joined ? withNewNormals(left) : left;
    const deviation =
      candidate.indices.length === 0
        ? { max: Infinity, mean: Infinity }
        : measureDeviation(against, candidate, { ...samplesFor(against), enough: allowed });
    if (deviation.max <= allowed) return { mesh: candidate, deviation };
    error *= Math.min(0.6, (0.9 * allowed) / deviation.max);
  }
  return undefined;
}

/** Keeps the vertices in use, sorts the triangles by slot and finds the feature edges anew. */
function compact({ mesh, positions, point, slotOfVertex }: Prepared, indices: Uint32Array): Mesh {
  const slots = mesh.groups.length === 0 ? 1 : Math.max(...mesh.groups.map((group) => group.slot)) + 1;
  const newIndex = new Int32Array(mesh.positions.length / 3).fill(-1);
  let used = 0;
  const sorted = new Uint32Array(indices.length);
  const groups: MeshGroup[] = [];
  let at = 0;
  for (let slot = 0; slot < slots; slot++) {
    const start = at;
    for (let i = 0; i < indices.length; i += 3) {
      if (slotOfVertex[indices[i]] !== slot) continue;
      for (let k = 0; k < 3; k++) {
        const vertex = indices[i + k];
        if (newIndex[vertex] < 0) newIndex[vertex] = used++;
        sorted[at++] = newIndex[vertex];
      }
    }
    if (at > start) groups.push({ slot, start, count: at - start });
  }
  const out: Mesh = {
    positions: new Float32Array(used * 3),
    normals: new Float32Array(used * 3),
    indices: sorted,
    groups,
    edges: new Float32Array(),
  };
  const newPoint = new Uint32Array(used);
  for (let v = 0; v < newIndex.length; v++) {
    const to = newIndex[v];
    if (to < 0) continue;
    newPoint[to] = point[v];
    for (let axis = 0; axis < 3; axis++) {
      out.positions[to * 3 + axis] = positions[v * 3 + axis];
      out.normals[to * 3 + axis] = mesh.normals[v * 3 + axis];
    }
  }
  if (mesh.uvs) out.uvs = mesh.uvs.map((set) => picked(set, 2, newIndex, used));
  if (mesh.trueSize) out.trueSize = true;
  if (mesh.colours) out.colours = picked(mesh.colours, 4, newIndex, used);
  out.edges = featureEdges(out, newPoint);
  return out;
}

/** The values of the vertices that stay, in their new order. */
function picked(values: Float32Array, size: number, newIndex: Int32Array, used: number): Float32Array {
  const out = new Float32Array(used * size);
  for (let v = 0; v < newIndex.length; v++)
    if (newIndex[v] >= 0) out.set(values.subarray(v * size, v * size + size), newIndex[v] * size);
  return out;
}
