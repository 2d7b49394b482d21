/** What every writer offers, and the list of them. A writer is one file; adding one is adding it here. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import { glbWriter } from './glb.ts';

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

export const WRITERS: readonly Writer[] = [glbWriter];

export function writerFor(target: string): Writer | undefined {
  return WRITERS.find((writer) => writer.target === target);
}
