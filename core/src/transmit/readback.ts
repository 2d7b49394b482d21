/**
 * The read-back: opens what was written, from its bytes alone and with a reader that shares nothing with the writer, and compares it
 * with what the scene says is to be there: tree, names, instances, places, every corner of every triangle, materials, the bytes of
 * pictures, cameras, lights, movements.
 */
import { asPrismError } from '../errors.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { Writer, WrittenFile } from '../write/writer.ts';
import { Comparison } from './comparison.ts';
import { expectedRows } from './expected.ts';
import type { FoundRow } from './found.ts';
import type { ReadBack } from './result.ts';

export async function readBack(
  { rows, carries }: Pick<Writer, 'rows' | 'carries'>,
  files: readonly WrittenFile[],
  scene: Scene,
  blobs: BlobStore,
  pictures?: PictureCodec,
): Promise<ReadBack> {
  const sent = await expectedRows(scene, blobs);
  let found: FoundRow[];
  try {
    found = await rows(files);
  } catch (error) {
    const check = { what: 'Opened by another reader', sent: 'yes', found: 'no', holds: false };
    return {
      holds: false,
      checks: [check],
      differences: [`the file cannot be opened: ${asPrismError(error).message}`],
    };
  }
  return new Comparison(sent, found, blobs, pictures, carries).run();
}
