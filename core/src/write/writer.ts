/** What every writer offers. A writer is one file, entered in `formats.ts`. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { FoundRow } from '../transmit/found.ts';

export interface WriteOptions {
  /** What people call the scene, where the format has a place for that. */
  title?: string;
  /** Joins pictures that the format has as one; those are left out where it is absent. */
  pictures?: PictureCodec;
}

/** A file of a delivery. */
export interface WrittenFile {
  /** Where it lies in the delivery, with its ending: `hall.glb`, `textures/oak.png`. The first is what a receiving tool opens. */
  name: string;
  mime: string;
  bytes: Uint8Array;
}

/** What a format may have a place for. What it has none for is lost, and the read-back does not look for it. */
export type Carried =
  'tree' | 'names' | 'normals' | 'uvs' | 'colours' | 'materials' | 'pictures' | 'cameras' | 'lights' | 'movements';

export interface Writer {
  /** Name that the command line and the transmittal use. */
  readonly target: string;
  readonly title: string;
  /** Ending of the file that a receiving tool opens, without the point. */
  readonly ending: string;
  /** Unit that lengths are written in, and metres of it. */
  readonly unit: { name: string; metres: number };
  readonly upAxis: 'y' | 'z';
  readonly carries: ReadonlySet<Carried>;
  /** @param name of the scene, safe as the name of a file without its ending */
  write(scene: Scene, blobs: BlobStore, name: string, options?: WriteOptions): Promise<WrittenFile[]>;
  /**
   * Opens what was written, with a reader that shares nothing with this writer, and says what stands in it: in metres, and up as in the
   * scene that was written.
   * @throws Error where the files cannot be read
   */
  rows(files: readonly WrittenFile[]): Promise<FoundRow[]>;
}
