/** Tessellates one solid, given as a self-contained text of ISO 10303-21, within a chord deviation and an angle. */
import { PrismError } from '../errors.ts';
import { figuresOf, packMesh } from '../mesh/mesh.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';
import type { MeshFigures } from '../scene/types.ts';
import type { ReplicadMeshData, TopoDS_Shape } from 'replicad-opencascadejs';
import { dropKernel, kernel, owning } from './kernel.ts';
import type { Kernel, Own } from './kernel.ts';
import { toriOf, worstOnTori } from './torusCheck.ts';

/** The limits that control a tessellation. */
export interface TessellationLimits {
  /** Largest distance between a triangle and the exact surface, metres. */
  chord: number;
  /** Largest turn between neighbouring triangles, radians. */
  angle: number;
}

export interface TessellateInput {
  text: Uint8Array;
  /** Slot per face; all slot 0 where absent. */
  faceSlots?: number[];
  /** Faces that the text names: fewer in the kernel's shape means that some were lost. */
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

/** The kernel works in millimetres whatever the text says, and converts on reading. */
export const MILLIMETRE = 0.001;

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
    const chord = limits.chord / MILLIMETRE / scale;
    const { raw, chord: used } = extractWithin(oc, shape, text, chord, limits.angle, own);
    const lines = own(oc.ReplicadEdgeMeshExtractor.extract(shape, used, limits.angle));
    const heap = oc.wasmMemory.buffer;
    const copy = <A>(
      make: new (buffer: ArrayBufferLike, at: number, length: number) => A,
      pointer: number,
      length: number,
    ): A => new make(heap, pointer, length);
    const groups = copy(Int32Array, raw.getFaceGroupsPtr(), raw.getFaceGroupsSize());
    const mesh = assemble(
      copy(Float32Array, raw.getVerticesPtr(), raw.getVerticesSize()),
      copy(Float32Array, raw.getNormalsPtr(), raw.getNormalsSize()),
      copy(Uint32Array, raw.getTrianglesPtr(), raw.getTrianglesSize()),
      groups,
      copy(Float32Array, lines.getLinesPtr(), lines.getLinesSize()),
      faceSlots,
      MILLIMETRE * scale,
    );
    if (mesh.indices.length === 0) throw new PrismError('solid-failed', 'The kernel made no triangle of this solid.');
    const faces = groups.length / 3;
    let unmeshed = 0;
    for (let f = 0; f < faces; f++) if (groups[f * 3 + 1] === 0) unmeshed++;
    const blob = packMesh(mesh);
    const figures = figuresOf(mesh, blob.length);
    const warning = warningFor(faces, unmeshed, faceSlots, expected ?? faces);
    return { blob, figures, faces, unmeshed, ...(warning ? { warning } : {}) };
  });
}

/** The exact shape that a text describes. @throws PrismError `solid-failed` */
export function translate(oc: Kernel, text: Uint8Array, own: Own): TopoDS_Shape {
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

/** How often a solid with tori is meshed again with tighter limits before it is taken as it is. */
const ATTEMPTS = 4;

/** Meshes; where tori exceed the chord deviation, again with a limit that is tighter by as much as was exceeded. */
export function extractWithin(
  oc: Kernel,
  shape: TopoDS_Shape,
  text: Uint8Array,
  limit: number,
  angle: number,
  own: Own,
): { raw: ReplicadMeshData; chord: number } {
  const tori = toriOf(text);
  let chord = limit;
  let before = Infinity;
  for (let attempt = 1; ; attempt++) {
    const raw = own(oc.ReplicadMeshExtractor.extract(shape, chord, angle, false));
    if (tori.size === 0 || attempt === ATTEMPTS) return { raw, chord };
    const heap = oc.wasmMemory.buffer;
    const groups = new Int32Array(heap, raw.getFaceGroupsPtr(), raw.getFaceGroupsSize());
    if ([...tori.keys()].some((face) => face * 3 >= groups.length)) return { raw, chord };
    const worst = worstOnTori(
      tori,
      new Float32Array(heap, raw.getVerticesPtr(), raw.getVerticesSize()),
      new Uint32Array(heap, raw.getTrianglesPtr(), raw.getTrianglesSize()),
      groups,
    );
    // Where a tighter limit brings nothing nearer, still tighter ones would only make triangles.
    if (worst <= limit || worst > before * 0.9) return { raw, chord };
    before = worst;
    chord *= (0.92 * limit) / worst;
  }
}

/** Sorts the triangles by slot, converts to metres, and copies everything out of the kernel's memory. */
function assemble(
  vertices: Float32Array,
  normals: Float32Array,
  triangles: Uint32Array,
  faceGroups: Int32Array,
  lines: Float32Array,
  faceSlots: number[] | undefined,
  metres: number,
): Mesh {
  const faces = faceGroups.length / 3;
  const slots = faceSlots && faceSlots.length === faces ? faceSlots : new Array<number>(faces).fill(0);
  const count = slots.reduce((most, slot) => Math.max(most, slot + 1), 1);
  const indices = new Uint32Array(triangles.length);
  const groups: MeshGroup[] = [];
  let at = 0;
  for (let slot = 0; slot < count; slot++) {
    const start = at;
    for (let f = 0; f < faces; f++) {
      if (slots[f] !== slot) continue;
      const first = faceGroups[f * 3];
      indices.set(triangles.subarray(first, first + faceGroups[f * 3 + 1]), at);
      at += faceGroups[f * 3 + 1];
    }
    if (at > start) groups.push({ slot, start, count: at - start });
  }
  return {
    positions: vertices.map((value) => value * metres),
    normals: unit(normals),
    indices: indices.slice(0, at),
    groups,
    edges: lines.map((value) => value * metres),
  };
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
