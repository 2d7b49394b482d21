/** What every reader offers, and the list of them. A reader is one folder or file; adding one is adding it here. */
import { PrismError } from '../errors.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import { stepReader } from './step/step.ts';

/** A file as it came in. */
export interface SourceFile {
  /** Name without folders. */
  name: string;
  bytes: Uint8Array;
}

/** One file being read, in two strokes. */
export interface Reading {
  /** First stroke: the structure. Solids carry provisional ids (`entity:12`) and no geometry is there yet. */
  readonly survey: Scene;
  /** Second stroke: exact shapes cut out and stored as blobs, each a text of its own. */
  cut(blobs: BlobStore, progress?: (done: number, total: number) => void): Promise<Scene>;
}

export interface Reader {
  /** Name of the format, for people. */
  readonly format: string;
  /** Usual endings, lower case, without the point. */
  readonly endings: readonly string[];
  recognises(file: SourceFile): boolean;
  /** @throws PrismError naming the file, and what to try */
  read(file: SourceFile, sourceId: string): Reading;
}

export const READERS: readonly Reader[] = [stepReader];

/** Largest file that is taken, bytes: it is held in memory whole. */
export const MAX_FILE_BYTES = 1_000_000_000;

/** Reads a file with the reader that recognises its content, or failing that its ending. */
export function readSource(file: SourceFile, sourceId: string): Reading {
  const ending = file.name.split('.').at(-1)?.toLowerCase() ?? '';
  const reader =
    READERS.find((candidate) => candidate.recognises(file)) ??
    READERS.find((candidate) => candidate.endings.includes(ending));
  if (!reader) {
    throw new PrismError(
      'not-readable',
      `${file.name} is not in a format that Noble Prism reads (${READERS.map((r) => r.format).join(', ')}). Ask for a STEP file: it carries exact solids, structure, names and colours.`,
      { file: file.name },
    );
  }
  return reader.read(file, sourceId);
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
