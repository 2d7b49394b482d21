/** Reads back a binary glTF file as a delivery does, for tests. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import { readBack } from '../transmit/readback.ts';
import type { ReadBack } from '../transmit/result.ts';
import { glbWriter } from '../write/gltf/gltf.ts';
import { WrittenFile } from '../write/writer.ts';

export function readBackGlb(
  bytes: Uint8Array,
  scene: Scene,
  blobs: BlobStore,
  pictures?: PictureCodec,
): Promise<ReadBack> {
  return readBack(
    glbWriter,
    [new WrittenFile('x.glb', 'model/gltf-binary', bytes)],
    scene,
    blobs,
    pictures ? { pictures } : {},
  );
}
