/** What every reader offers, and the list of them. A reader is one folder or file; adding one is adding it here. */
import { PrismError, asPrismError } from '../errors.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec, Seen, Workbench } from '../surroundings.ts';
import { brepReader } from './brep.ts';
import { colladaReader } from './collada/collada.ts';
import type { Companions } from './companions.ts';
import { ifcReader } from './ifc/ifc.ts';
import { igesReader } from './iges.ts';
import { isOurs, said } from './library.ts';
import { endingOf } from './paths.ts';
import { gltfReader } from './gltf/gltf.ts';
import { objReader } from './obj/obj.ts';
import { isZip, openPackage, readPackage } from './package.ts';
import { plyReader } from './ply.ts';
import { stepReader } from './step/step.ts';
import { stlReader } from './stl.ts';
import { threeMfReader } from './threeMf.ts';
import { usdReader } from './usd/usd.ts';
import { x3dReader } from './x3d/x3d.ts';

/** A file as it came in. */
export interface SourceFile {
  /** Name without folders. */
  name: string;
  bytes: Uint8Array;
  /** Files that came with it: material files, pictures, parts. */
  beside?: Companions;
  /** Told the share of the file that was looked through, 0 to 1, and what was seen in it, while a large one is read. */
  progress?: (share: number, seen: Seen) => void;
  /** Files that refer to this one, outermost first: an assembly must not contain itself. */
  within?: readonly string[];
}

/** Told how far the second stroke is, and asked whether to go on. */
export interface BuildOptions {
  progress?: (done: number, total: number) => void;
  signal?: AbortSignal;
  /** Opens kinds of picture that a browser does not draw; they are kept as they are where it is absent. */
  pictures?: PictureCodec;
  /** Runs what is heavy; in this thread where it is absent. */
  workbench?: Workbench;
  /**
   * Told once, where many shapes follow: the scene with the largest few, so that they can be tessellated while the others are
   * still being stored. Parts without their shape yet have none.
   */
  begun?: (scene: Scene) => Promise<void>;
}

/** One file being read, in two strokes. Both give the same nodes with the same ids and keys. */
export interface Reading {
  /** First stroke: the structure. Solids carry provisional ids (`entity:12`) and no geometry is there yet. */
  readonly survey: Scene;
  /** Second stroke: exact shapes and meshes, stored as blobs. */
  build(blobs: BlobStore, options?: BuildOptions): Promise<Scene>;
}

export interface Reader {
  /** Name of the format, for people. */
  readonly format: string;
  /** Usual endings, lower case, without the point. */
  readonly endings: readonly string[];
  /** True where the content says so, whatever the file is called. */
  recognises(file: SourceFile): boolean;
  /** @throws PrismError naming the file, and what to try */
  read(file: SourceFile, sourceId: string): Promise<Reading>;
}

export const READERS: readonly Reader[] = [
  ifcReader,
  stepReader,
  gltfReader,
  usdReader,
  threeMfReader,
  plyReader,
  stlReader,
  objReader,
  colladaReader,
  x3dReader,
  igesReader,
  brepReader,
];

/** Largest file that is taken, bytes: it is held in memory whole. */
export const MAX_FILE_BYTES = 1_000_000_000;

/** Formats that are a zip themselves; a zip with another ending is a package, even where it is called like its model. */
const ZIPPED = ['3mf', 'usdz', 'zae'];

/** The reader that recognises the content, or failing that the ending. */
export function readerFor(file: SourceFile): Reader | undefined {
  const ending = endingOf(file.name);
  return (
    READERS.find((candidate) => candidate.recognises(file)) ??
    (isZip(file.bytes) && !ZIPPED.includes(ending)
      ? undefined
      : READERS.find((candidate) => candidate.endings.includes(ending)))
  );
}

/**
 * Reads a file, or a package of files, with the reader that recognises it.
 * @throws PrismError naming the file, what is wrong with it, and what to ask for instead
 */
export async function readSource(file: SourceFile, sourceId: string): Promise<Reading> {
  const reader = readerFor(file);
  try {
    if (reader) return await reader.read(file, sourceId);
    const inner = openPackage(file);
    if (inner) return await readPackage(file, inner, sourceId);
  } catch (error) {
    // What a library throws at a damaged file is not our fault, and does not get better by trying again.
    if (!isOurs(error))
      throw new PrismError('not-readable', `${file.name} is damaged: ${said(error)}. Ask for it again.`, {
        file: file.name,
      });
    throw asPrismError(error, { file: file.name });
  }
  throw new PrismError('not-readable', notOpen(file.name), { file: file.name });
}

/** Why a file is not read, and which open format to ask for, by what matters. */
function notOpen(name: string): string {
  return (
    `${name} is not in an open format that Noble Prism reads (${READERS.map((reader) => reader.format).join(', ')}). ` +
    'Ask for STEP where exact solids, structure and colours matter; for IFC where it is a building with storeys and classes; ' +
    'for glTF where materials and textures matter; for OBJ, PLY or STL where only a mesh is there.'
  );
}

/** Refuses a file for its size before it is read into memory. */
export function checkFileSize(name: string, bytes: number): void {
  if (bytes === 0) throw new PrismError('empty-file', `${name} is empty (0 bytes). Ask for it again.`, { file: name });
  if (bytes > MAX_FILE_BYTES) {
    throw new PrismError(
      'too-large',
      `${name} is ${(bytes / 1e9).toFixed(1)} GB; at most ${MAX_FILE_BYTES / 1e9} GB can be read at once. Ask for it in sub-assemblies.`,
      { file: name },
    );
  }
}
