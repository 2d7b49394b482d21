/** What stands in a file of COLLADA, by the reader with which sources are received. What a node shows that has others below it is its own. */
import type { WrittenFile } from '../../write/writer.ts';
import type { FoundRow } from '../found.ts';
import { folded, readRows } from './source.ts';

/** @throws Error where the files cannot be read */
export async function openCollada(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const { scene, rows } = await readRows(files);
  // It is no element of the file, and stands on no line of it.
  return folded(scene, rows, ({ entity }) => entity === undefined);
}
