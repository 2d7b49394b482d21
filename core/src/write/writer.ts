/** What every writer offers. A writer is one file, entered in `formats.ts`. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';

export interface WriteOptions {
  /** Joins pictures that the format has as one; those are left out where it is absent. */
  pictures?: PictureCodec;
}

export interface Writer {
  /** Name that the command line and the transmittal use. */
  readonly target: string;
  readonly title: string;
  /** File ending without the point. */
  readonly ending: string;
  readonly mime: string;
  write(scene: Scene, blobs: BlobStore, name: string, options?: WriteOptions): Promise<Uint8Array>;
}
