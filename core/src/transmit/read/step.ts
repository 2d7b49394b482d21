/**
 * What stands in a STEP file, by the reader with which sources are received: rows, places, and each solid by the text that is cut out of
 * the file again, which is the same to the byte where the solid is the same.
 */
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import type { WrittenFile } from '../../write/writer.ts';
import { exactOf } from '../exact.ts';
import type { FoundRow } from '../found.ts';
import { readFiles } from './source.ts';

/** @throws Error where the files cannot be read */
export async function openStep(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const { scene } = await readFiles(files);
  const facts = factsOf(scene);
  const out: FoundRow[] = [];
  const rowOf = new Map<number, number | null>();
  for (const row of facts.order) {
    const node = scene.nodes.row(row);
    const parent = node.parent === null ? null : (rowOf.get(node.parent) ?? null);
    const exact = exactOf(scene, node, IDENTITY);
    const above = node.parent === null ? undefined : scene.nodes.row(node.parent);
    // The product of a solid that its row shows beside others below it is no row.
    if (exact && parent !== null && above?.name === node.name && out[parent].exact === undefined && !above.solid) {
      out[parent].exact = exact;
      rowOf.set(row, parent);
      continue;
    }
    rowOf.set(row, out.length);
    out.push({ parent, name: node.name, world: facts.world(row), bodies: [], movements: [], ...(exact ? { exact } : {}) });
  }
  return out;
} // prettier-ignore
