/** What stands in a 3MF package, by the reader with which sources are received. An object that is only the shape of others is taken as their own. */
import type { WrittenFile } from '../../write/writer.ts';
import { SHAPE } from '../../write/threeMf/objects.ts';
import type { FoundRow } from '../found.ts';
import { folded, readRows } from './source.ts';

/** @throws Error where the files cannot be read */
export async function openThreeMf(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const { scene, rows } = await readRows(files);
  return folded(scene, rows, ({ properties }) => properties?.['Part number'] === SHAPE);
}
