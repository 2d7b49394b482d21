/** Tessellates one solid, given as a self-contained text of ISO 10303-21 or as BREP, within a chord deviation and an angle. */
import { PrismError } from '../errors.ts';
import { figuresOf, packMesh } from '../mesh/mesh.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';
import type { MeshFigures } from '../scene/types.ts';
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { collapseShortEdges, splitLongEdges } from './edgeLimits.ts';
import { exactFaces, rangesOf } from './faces.ts';
import type { ExactFace, FacesMesh } from './faces.ts';
import { isBrepText, shapeOfBrep } from './bodies.ts';
import { dropKernel, kernel, MILLIMETRE, owning } from './kernel.ts';
import type { Kernel, Own } from './kernel.ts';
import { worstDeviation } from './measure.ts';
import { meshWithin } from './meshWithin.ts';

/** The limits that control a tessellation. */
export interface TessellationLimits {
  /** Largest distance between a triangle and the exact surface, metres. */
  chord: number;
  /** Largest turn between neighbouring triangles, radians. */
  angle: number;
  /** Longer edges are divided, metres. */
  longest?: number;
  /** Shorter edges are joined where the shape allows it, even beyond the chord deviation, metres. */
  shortest?: number;
}

export interface TessellateInput {
  text: Uint8Array;
  /** Slot per face; all slot 0 where absent. */
  faceSlots?: number[];
  /** Faces that the text names: fewer in the kernel's shape means that some were lost; 0 for what is lines only. */
  faces?: number;
  limits: TessellationLimits;
  /** How much larger the mesh is to be than the text says; the limits are meant for the result. */
  scale?: number;
}

export interface TessellateOutput {
  /** The packed mesh, see mesh/mesh.ts. */
  blob: Uint8Array;
  figures: MeshFigures;
  /** Faces of the solid, and those that the kernel left without triangles. */
  faces: number;
  unmeshed: number;
  warning?: string;
}

/**
 * @throws PrismError `solid-failed` where the kernel cannot translate the solid or makes no triangle of it
 */
export async function tessellate({
  text,
  faceSlots,
  faces,
  limits,
  scale = 1,
}: TessellateInput): Promise<TessellateOutput> {
  const oc = await kernel();
  try {
    return tessellateWith(oc, text, faceSlots, faces, limits, scale);
  } catch (error) {
    if (error instanceof PrismError) throw error;
    // The instance may be left in any state after a trap.
    dropKernel();
    throw new PrismError('solid-failed', `The kernel could not translate this solid (${describe(error)}).`);
  }
}

function describe(error: unknown): string {
  if (error instanceof Error) return error.message.split('\n')[0];
  return 'an exception inside the kernel';
}

function tessellateWith(
  oc: Kernel,
  text: Uint8Array,
  faceSlots: number[] | undefined,
  expected: number | undefined,
  limits: TessellationLimits,
  scale: number,
): TessellateOutput {
  return owning((own) => {
    const shape = translate(oc, text, own);
    const exact = exactFaces(oc, shape, own);
    // Limits are meant for the result: in metres, after the unit was set right.
    const millimetres = (metres: number) => metres / MILLIMETRE / scale;
    const { mesh: meshed, chord, worst } = meshWithin(oc, shape, exact, millimetres(limits.chord), limits.angle, own);
    const mesh = withinEdges(meshed, limits, millimetres);
    // Only limits of edges change what was measured already.
    const deviation = (mesh === meshed ? worst : worstDeviation(mesh, exact)) * MILLIMETRE * scale;
    const faces = mesh.firstIndex.length - 1;
    let unmeshed = 0;
    for (let f = 0; f < faces; f++) if (mesh.firstIndex[f] === mesh.firstIndex[f + 1]) unmeshed++;
    const lines = own(oc.ReplicadEdgeMeshExtractor.extract(shape, chord, limits.angle));
    const edges = new Float32Array(oc.wasmMemory.buffer, lines.getLinesPtr(), lines.getLinesSize());
    // A wireframe has lines only.
    if (mesh.triangles.length === 0 && (expected !== 0 || edges.length === 0))
      throw new PrismError('solid-failed', 'The kernel made no triangle of this solid.');
    const result = assemble(mesh, exact, edges, faceSlots, MILLIMETRE * scale);
    const blob = packMesh(result);
    const figures = { ...figuresOf(result, blob.length), exact: { max: deviation, chord: limits.chord } };
    const warning = warningFor(faces, unmeshed, faceSlots, expected ?? faces);
    return { blob, figures, faces, unmeshed, ...(warning ? { warning } : {}) };
  });
}

function withinEdges(
  mesh: FacesMesh,
  { longest, shortest }: TessellationLimits,
  millimetres: (metres: number) => number,
): FacesMesh {
  const joined = shortest === undefined ? mesh : collapseShortEdges(mesh, millimetres(shortest));
  return longest === undefined ? joined : splitLongEdges(joined, millimetres(longest));
}

/** The exact shape that a text describes. @throws PrismError `solid-failed` */
export function translate(oc: Kernel, text: Uint8Array, own: Own): TopoDS_Shape {
  if (isBrepText(text)) return shapeOfBrep(oc, text, own);
  const path = '/piece.stp';
  oc.FS.writeFile(path, text);
  const reader = own(new oc.STEPControl_Reader());
  const status = reader.ReadFile(path);
  oc.FS.unlink(path);
  if (String(status) !== 'IFSelect_RetDone')
    throw new PrismError('solid-failed', 'The kernel could not read the text of this solid.');
  reader.TransferRoots();
  if (reader.NbShapes() === 0)
    throw new PrismError('solid-failed', 'The kernel could not translate this solid: it made no shape of it.');
  return own(reader.OneShape());
}

function warningFor(
  faces: number,
  unmeshed: number,
  faceSlots: number[] | undefined,
  expected: number,
): string | undefined {
  const notes: string[] = [];
  if (faces < expected) notes.push(`${expected - faces} of ${expected} faces could not be translated`);
  if (unmeshed > 0) notes.push(`${unmeshed} of ${faces} faces have no triangles`);
  if (faceSlots && faceSlots.length !== faces)
    notes.push('colours of single faces could not be placed; the solid has one colour');
  return notes.length > 0 ? `${notes.join('; ')}.` : undefined;
}

/** Sorts the triangles by slot and converts to metres. */
function assemble(
  mesh: FacesMesh,
  exact: readonly ExactFace[],
  lines: Float32Array,
  faceSlots: number[] | undefined,
  metres: number,
): Mesh {
  const { triangles, firstIndex } = mesh;
  const faces = firstIndex.length - 1;
  const slots = faceSlots && faceSlots.length === faces ? faceSlots : new Array<number>(faces).fill(0);
  const count = slots.reduce((most, slot) => Math.max(most, slot + 1), 1);
  const indices = new Uint32Array(triangles.length);
  const groups: MeshGroup[] = [];
  let at = 0;
  for (let slot = 0; slot < count; slot++) {
    const start = at;
    for (let f = 0; f < faces; f++) {
      if (slots[f] !== slot) continue;
      indices.set(triangles.subarray(firstIndex[f], firstIndex[f + 1]), at);
      at += firstIndex[f + 1] - firstIndex[f];
    }
    if (at > start) groups.push({ slot, start, count: at - start });
  }
  const uvs = texturePlaces(mesh, exact, metres);
  return {
    positions: mesh.positions.map((value) => value * metres),
    normals: unit(mesh.normals),
    indices: indices.slice(0, at),
    groups,
    edges: lines.map((value) => value * metres),
    // Lines have no surface to lay a picture on.
    ...(uvs && uvs.length > 0 ? { uvs: [uvs], trueSize: true } : {}),
  };
}

/**
 * Texture coordinates from the parameters of the surfaces, in metres, so that a picture has its true size: u to the right and v
 * downwards, seen from outside. Undefined where the kernel gave no parameters.
 */
function texturePlaces(mesh: FacesMesh, exact: readonly ExactFace[], metres: number): Float32Array | undefined {
  const { parameters, firstVertex, firstIndex, triangles } = mesh;
  if (!parameters) return undefined;
  const uvs = new Float32Array(parameters.length);
  for (let f = 0; f < exact.length; f++) {
    const { u, v } = rangesOf(mesh, f);
    const [perU, perV] = exact[f].surface.lengths(u, v);
    // Where a face looks the other way than its surface, u runs to the left.
    let area = 0;
    for (let i = firstIndex[f]; i < firstIndex[f + 1]; i += 3) {
      const [a, b, c] = [triangles[i] * 2, triangles[i + 1] * 2, triangles[i + 2] * 2];
      area +=
        (parameters[b] - parameters[a]) * (parameters[c + 1] - parameters[a + 1]) -
        (parameters[c] - parameters[a]) * (parameters[b + 1] - parameters[a + 1]);
    }
    const toRight = area < 0 ? -1 : 1;
    for (let vertex = firstVertex[f]; vertex < firstVertex[f + 1]; vertex++) {
      uvs[vertex * 2] = toRight * parameters[vertex * 2] * perU * metres;
      uvs[vertex * 2 + 1] = -parameters[vertex * 2 + 1] * perV * metres;
    }
  }
  return uvs;
}

/** Normals of length one; where the kernel has none (a pole, a seam of no length) up is as good as any. */
function unit(normals: Float32Array): Float32Array {
  const out = new Float32Array(normals.length);
  for (let i = 0; i < normals.length; i += 3) {
    const length = Math.hypot(normals[i], normals[i + 1], normals[i + 2]);
    if (length > 0 && Number.isFinite(length))
      for (let axis = 0; axis < 3; axis++) out[i + axis] = normals[i + axis] / length;
    else out[i + 1] = 1;
  }
  return out;
}
