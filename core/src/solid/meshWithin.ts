/**
 * Meshes a shape so that its triangles lie within a chord deviation of the exact surfaces, with as few as that takes. The
 * kernel spends half of the deviation on borders and keeps no limit on tori, so its limit is chosen here and the result is
 * measured; where it is exceeded, the kernel is asked again with a tighter one.
 */
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { facesMesh } from './faces.ts';
import type { ExactFace, FacesMesh } from './faces.ts';
import type { Kernel, Own } from './kernel.ts';
import { worstDeviation } from './measure.ts';
import { nearer } from './nearer.ts';
import { rowsOf } from './rows.ts';

export interface Meshed {
  mesh: FacesMesh;
  /** The kernel's own limit that it was made with, millimetres. */
  chord: number;
  /** Largest distance from the exact surfaces that was found, millimetres. */
  worst: number;
}

/** How often a shape is meshed again with a tighter limit before it is taken as it is. */
const ATTEMPTS = 4;
/** Surfaces whose measured deviation is a sample: so much over the limit is not worth another run. */
const TOLERATED = 1.05;

/**
 * @param limit chord deviation, millimetres
 * @param angle radians
 */
export function meshWithin(
  oc: Kernel,
  shape: TopoDS_Shape,
  faces: readonly ExactFace[],
  limit: number,
  angle: number,
  own: Own,
): Meshed {
  const kinds = new Set(faces.map(({ surface }) => surface.kind));
  // Where every surface is straight in one direction, the half that the kernel keeps back can be spent.
  const isStraight = !['sphere', 'torus', 'other'].some((kind) => kinds.has(kind as never));
  const round = kinds.size > 1 || !kinds.has('plane');
  let chord = isStraight && round ? limit * 1.99 : limit;
  let before = Infinity;
  for (let attempt = 1; ; attempt++) {
    const raw = own(oc.ReplicadMeshExtractor.extract(shape, chord, angle, false));
    const mesh = withRows(facesMesh(oc, raw, faces, own), faces, chord / 2, angle);
    const worst = worstDeviation(mesh, faces);
    const most = kinds.has('other') ? limit * TOLERATED : limit;
    // Where a tighter limit brings nothing nearer, still tighter ones would only make triangles.
    if (worst <= most) return { mesh, chord, worst };
    if (attempt === ATTEMPTS || worst > before * 0.9) {
      const refined = nearer(mesh, faces, limit);
      return { mesh: refined, chord, worst: refined === mesh ? worst : worstDeviation(refined, faces) };
    }
    before = worst;
    chord *= (0.92 * limit) / worst;
  }
}

/** The mesh with the faces that can be meshed in rows replaced. */
function withRows(mesh: FacesMesh, faces: readonly ExactFace[], sagitta: number, angle: number): FacesMesh {
  const { parameters, firstVertex, firstIndex } = mesh;
  if (!parameters) return mesh;
  const made = faces.map(({ surface }, f) => {
    if (!surface.round || surface.kind === 'cylinder') return undefined;
    const [first, end] = [firstVertex[f], firstVertex[f + 1]];
    const triangles = mesh.triangles.slice(firstIndex[f], firstIndex[f + 1]).map((vertex) => vertex - first);
    const face = { parameters: parameters.subarray(first * 2, end * 2), triangles };
    return rowsOf(surface, face, { sagitta, angle });
  });
  if (!made.some(Boolean)) return mesh;
  const sizes = made.map((rows, f) => ({
    vertices: rows ? rows.kept.length : firstVertex[f + 1] - firstVertex[f],
    indices: rows ? rows.triangles.length : firstIndex[f + 1] - firstIndex[f],
  }));
  const vertices = sizes.reduce((sum, size) => sum + size.vertices, 0);
  const out = {
    positions: new Float32Array(vertices * 3),
    normals: new Float32Array(vertices * 3),
    parameters: new Float64Array(vertices * 2),
    triangles: new Uint32Array(sizes.reduce((sum, size) => sum + size.indices, 0)),
    firstVertex: new Uint32Array(faces.length + 1),
    firstIndex: new Uint32Array(faces.length + 1),
  };
  let [vertex, index] = [0, 0];
  for (let f = 0; f < faces.length; f++) {
    out.firstVertex[f] = vertex;
    out.firstIndex[f] = index;
    const [first, end] = [firstVertex[f], firstVertex[f + 1]];
    const rows = made[f];
    if (rows) fillRows(out, mesh, faces[f], first, rows, vertex);
    else {
      out.positions.set(mesh.positions.subarray(first * 3, end * 3), vertex * 3);
      out.normals.set(mesh.normals.subarray(first * 3, end * 3), vertex * 3);
      out.parameters.set(parameters.subarray(first * 2, end * 2), vertex * 2);
    }
    const triangles = rows ? rows.triangles : mesh.triangles.subarray(firstIndex[f], firstIndex[f + 1]);
    const shift = rows ? vertex : vertex - first;
    for (let i = 0; i < triangles.length; i++) out.triangles[index + i] = triangles[i] + shift;
    vertex += sizes[f].vertices;
    index += sizes[f].indices;
  }
  out.firstVertex[faces.length] = vertex;
  out.firstIndex[faces.length] = index;
  return out;
}

/** Places and normals of a face in rows: those of the borders are the kernel's places, so that neighbours still meet. */
function fillRows(
  out: { positions: Float32Array; normals: Float32Array; parameters: Float64Array },
  mesh: FacesMesh,
  { surface }: ExactFace,
  first: number,
  { parameters, kept }: { parameters: Float64Array; kept: Int32Array },
  start: number,
): void {
  const { round } = surface;
  if (!round) return;
  const facing = agreement(mesh, round.normal, first, kept, parameters);
  out.parameters.set(parameters, start * 2);
  for (let i = 0; i < kept.length; i++) {
    const [u, v] = [parameters[i * 2], parameters[i * 2 + 1]];
    const from = (first + kept[i]) * 3;
    out.positions.set(kept[i] >= 0 ? mesh.positions.subarray(from, from + 3) : surface.at(u, v), (start + i) * 3);
    out.normals.set(
      round.normal(u, v).map((value) => value * facing),
      (start + i) * 3,
    );
  }
}

/** 1 where the face looks the way that its surface does, -1 where it looks the other way: as most of the kernel's normals say. */
function agreement(
  { normals }: FacesMesh,
  normal: (u: number, v: number) => readonly number[],
  first: number,
  kept: Int32Array,
  parameters: Float64Array,
): number {
  let sum = 0;
  for (let i = 0; i < kept.length; i++) {
    if (kept[i] < 0) continue;
    const [x, y, z] = normal(parameters[i * 2], parameters[i * 2 + 1]);
    const n = (first + kept[i]) * 3;
    sum += Math.sign(x * normals[n] + y * normals[n + 1] + z * normals[n + 2]) || 0;
  }
  return sum < 0 ? -1 : 1;
}
