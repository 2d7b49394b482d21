/**
 * The read-back: opens what was written, from its bytes alone and with a reader that shares nothing with the writer, and compares it
 * with what the scene says is to be there: tree, names, instances, places, every corner of every triangle, materials, the bytes of
 * pictures, cameras, lights, movements.
 */
import { asPrismError } from '../errors.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { FileWay, Writer, WrittenFile } from '../write/writer.ts';
import { comparable } from './comparable.ts';
import { Comparison } from './comparison.ts';
import type { ReadBackWay } from './comparison.ts';
import { expectedRows } from './expected.ts';
import type { FoundRow } from './found.ts';
import type { ReadBack } from './result.ts';

/**
 * @param scene as it was arranged for the target, in metres
 * @param told unit and axis that the files were written with
 */
export async function readBack(
  writer: Pick<Writer, 'rows' | 'exact'> & ReadBackWay,
  files: readonly WrittenFile[],
  scene: Scene,
  blobs: BlobStore,
  { told, pictures }: { told?: FileWay; pictures?: PictureCodec } = {},
): Promise<ReadBack> {
  const sent = comparable(await expectedRows(scene, blobs, writer.exact), writer, { isSent: true });
  let found: FoundRow[];
  try {
    found = comparable(await writer.rows(files, told), writer);
  } catch (error) {
    const check = { what: 'Opened by another reader', sent: 'yes', found: 'no', holds: false };
    return {
      holds: false,
      checks: [check],
      differences: [`the file cannot be opened: ${asPrismError(error).message}`],
    };
  }
  return new Comparison(sent, found, blobs, pictures, writer).run();
}
