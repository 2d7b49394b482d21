/** What every reader offers. A reader is one folder or file, entered in `formats.ts`. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec, Seen, Workbench } from '../surroundings.ts';
import type { Companions } from './companions.ts';

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
  /**
   * @param others finds the readers of files that this one names
   * @throws PrismError naming the file, and what to try
   */
  read(file: SourceFile, sourceId: string, others: FindReader): Promise<Reading>;
}

/** The reader for a file of whatever format, if there is one. */
export type FindReader = (file: SourceFile) => Reader | undefined;
