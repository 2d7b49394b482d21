/** Reader of STEP files (ISO 10303-21 text; schemas 203, 214 and 242): survey in TypeScript, solids cut for the kernel. */
import { asPrismError } from '../../errors.ts';
import { completeMesh } from '../../mesh/complete.ts';
import { figuresOf, packMesh } from '../../mesh/mesh.ts';
import { hashData } from '../../scene/hash.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Material, MeshFigures, Scene, SolidInfo, SourceInfo } from '../../scene/types.ts';
import type { BlobStore, Seen } from '../../surroundings.ts';
import { linearFromSrgb } from '../../finish/colour.ts';
import type { Reader, SourceFile } from '../reader.ts';
import { RowProgress } from '../rowProgress.ts';
import { sideBySide } from '../../sideBySide.ts';
import { cutMarks, cutPiece } from './cut.ts';
import { Entities } from './entities.ts';
import { withExternals } from './externals.ts';
import type { ReadingWithExternals } from './externals.ts';
import { looksLikePart21, scanPart21 } from './scan.ts';
import type { Part21 } from './part21.ts';
import { readStructure } from './structure.ts';
import type { Piece } from './pieces.ts';
import type { StepStructure } from './structure.ts';
import type { Colour } from './styles.ts';
import { tessellatedMesh } from './tessellated.ts';

export const stepReader: Reader = {
  format: 'STEP',
  endings: ['stp', 'step', 'p21'],
  recognises: (file) => looksLikePart21(file.bytes),
  read: (file, sourceId, others) => withExternals(readStep(file, sourceId), file, sourceId, others),
};

/** Share of the time in which the text has been looked through; what is placed a thousand times takes longer to unfold. */
const SCANNED = 0.6;
/** Texts of solids that are being stored at a time. */
const STORED_AT_ONCE = 12;
/** Shapes that can be worked on before the others are stored, and how many there must be for that to be worth it. */
const FIRST = 4;
const MANY = 40;

/** One file by itself, without waiting: nothing of the survey needs to. */
export function readStep(file: SourceFile, sourceId: string): ReadingWithExternals {
  const { progress } = file;
  const scanned = progress && ((share: number, seen: Seen) => progress(share * SCANNED, seen));
  const part21 = scanPart21(file.bytes, file.name, scanned);
  const structure = structureOf(part21, sourceId, file);
  const provisional = structure.pieces.map((piece): BuiltPiece => {
    const entity = `#${part21.ids[piece.solid]}`;
    const info = { text: '', bytes: 0, entity, faces: piece.faces, name: piece.name, extent: 0 };
    return piece.kind === 'triangles' ? {} : { solid: [`entity:${entity}`, info] };
  });
  return {
    externals: structure.externals,
    survey: sceneOf(file, sourceId, part21, structure, provisional),
    async build(blobs, { progress, signal, begun } = {}) {
      const marks = cutMarks(part21);
      const { pieces } = structure;
      const built: BuiltPiece[] = pieces.map(() => ({}));
      let done = 0;
      // Cutting is quick; storing waits for the disk, so some are stored side by side.
      const store = (numbers: number[]) =>
        sideBySide(numbers, STORED_AT_ONCE, async (number) => {
          signal?.throwIfAborted();
          const piece = pieces[number];
          built[number] =
            piece.kind === 'triangles'
              ? await triangles(part21, piece, blobs)
              : { solid: await solid(part21, piece, marks, blobs) };
          progress?.(++done, pieces.length);
        });
      const largestFirst = pieces.map((_, number) => number).sort((a, b) => pieces[b].faces - pieces[a].faces || a - b);
      const first = begun && pieces.length > MANY ? FIRST : 0;
      if (begun && first > 0) {
        await store(largestFirst.slice(0, first));
        await begun(sceneOf(file, sourceId, part21, structure, built));
      }
      await store(largestFirst.slice(first));
      return sceneOf(file, sourceId, part21, structure, built);
    },
  };
}

/** What was made of one piece: an exact shape, a mesh, or nothing. */
interface BuiltPiece {
  solid?: [string, SolidInfo];
  mesh?: [string, MeshFigures];
  problem?: string;
}

/** The text of an exact shape, stored, with what is known of it. */
async function solid(part21: Part21, piece: Piece, marks: Int32Array, blobs: BlobStore): Promise<[string, SolidInfo]> {
  const { bytes, missing, extent } = cutPiece(part21, piece, marks);
  const entity = `#${part21.ids[piece.solid]}`;
  if (missing !== undefined) {
    part21.warnings.push({
      code: 'dangling',
      message: `Solid ${piece.name || entity} refers to #${missing}, which is not in the file. Faces may be missing.`,
      where: part21.where(piece.solid),
    });
  }
  const text = await blobs.put(bytes);
  const info: SolidInfo = {
    text,
    bytes: bytes.length,
    faces: piece.faces,
    entity,
    name: piece.name,
    extent: extent * piece.metres,
    ...(piece.faceSlots ? { faceSlots: piece.faceSlots } : {}),
    ...(piece.stated ? { stated: piece.stated } : {}),
  };
  return [piece.faceSlots ? hashData([text, piece.faceSlots]) : text, info];
}

/** A body that is there as triangles. */
async function triangles(part21: Part21, piece: Piece, blobs: BlobStore): Promise<BuiltPiece> {
  const slots = piece.faceSlots ?? new Array<number>(piece.faces).fill(0);
  const bare = tessellatedMesh(new Entities(part21), piece.solid, slots);
  const mesh = completeMesh(bare, piece.metres, [0, 0, 0]);
  if (!mesh) return { problem: 'Nothing of this part can be drawn.' };
  const blob = packMesh(mesh);
  return { mesh: [await blobs.put(blob), figuresOf(mesh, blob.length)] };
}

/** A fault that no entity can be blamed for still names the file. */
function structureOf(part21: Part21, sourceId: string, { name, progress }: SourceFile): StepStructure {
  const so = { format: 'STEP', head: part21.header.schema, what: 'placements' };
  try {
    return readStructure(part21, sourceId, name, (total) => new RowProgress(progress, so, total, SCANNED));
  } catch (error) {
    throw asPrismError(error, { file: name });
  }
}

function sceneOf(
  file: SourceFile,
  sourceId: string,
  part21: Part21,
  structure: StepStructure,
  built: readonly BuiltPiece[],
): Scene {
  const materials: Record<string, Material> = { none: NO_MATERIAL };
  for (const [id, colour] of structure.colours) materials[id] = materialOf(id, colour);
  const { header } = part21;
  const info: SourceInfo = {
    id: sourceId,
    name: file.name,
    format: 'STEP',
    schema: header.schema,
    producer: [header.producer, header.timeStamp].filter(Boolean).join(', '),
    unit: structure.unit,
    units: structure.units,
    // The format has no up axis; engineering models are drawn z up (common practice).
    upAxis: { axis: 'z', by: 'convention' },
    up: 'z',
    bytes: file.bytes.length,
    ...(structure.notRead.length > 0 ? { notRead: structure.notRead } : {}),
    warnings: [...part21.warnings],
  };
  const layers = [...new Map(structure.layers.map((layer) => [layer.name, layer])).values()];
  return withShapes(structure, built, {
    sources: [info],
    nodes: structure.nodes,
    meshes: Object.fromEntries(built.flatMap(({ mesh }) => (mesh ? [mesh] : []))),
    solids: Object.fromEntries(built.flatMap(({ solid }) => (solid ? [solid] : []))),
    materials,
    textures: {},
    animations: {},
    layers: layers.map(({ name, description }) => ({
      name,
      source: sourceId,
      ...(description ? { description } : {}),
    })),
  });
}

/** The scene with what was made of each piece, at all its rows. */
function withShapes({ pieceOf }: StepStructure, built: readonly BuiltPiece[], scene: Scene): Scene {
  const edit = new SceneEditor(scene);
  for (let row = 0; row < pieceOf.length; row++) {
    if (pieceOf[row] < 0) continue;
    const { solid, mesh, problem } = built[pieceOf[row]];
    if (solid) edit.setSolid(row, solid[0]);
    if (mesh) edit.setMesh(row, mesh[0]);
    if (problem) edit.setProblem(row, problem);
  }
  return edit.finish().scene;
}

function materialOf(id: string, colour: Colour): Material {
  return {
    id,
    name: `Colour ${id}`,
    baseColor: colour.rgb.map(linearFromSrgb) as [number, number, number],
    opacity: colour.opacity,
    metallic: 0,
    roughness: 0.6,
    origin: 'source',
  };
}
