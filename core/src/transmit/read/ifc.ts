/**
 * What stands in a file of IFC, by the reader with which sources are received: structure from the text, shapes by web-ifc. The project
 * and the buildings that were made for the delivery are no rows.
 */
import { BESIDE_PROJECT, IN_PROJECT, MADE_PROJECT } from '../../write/ifc/marks.ts';
import { hashBytes } from '../../scene/hash.ts';
import { factsOf } from '../../scene/facts.ts';
import type { WrittenFile } from '../../write/writer.ts';
import type { FoundGeometry, FoundRow } from '../found.ts';
import { readRows } from './source.ts';

/** @throws Error where the files cannot be read */
export async function openIfc(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const { scene, rows: found } = await readRows(files);
  const rows = sharingPoints(found);
  const { order } = factsOf(scene);
  const out: FoundRow[] = [];
  /** Number that each row has in what is found; null for the top. */
  const numbers: (number | null)[] = [];
  for (const [i, row] of rows.entries()) {
    const above = row.parent === null ? null : numbers[row.parent];
    const made = scene.nodes.row(order[i]).properties?.Description;
    if (made === MADE_PROJECT || made === BESIDE_PROJECT) numbers.push(null);
    else if (made === IN_PROJECT) numbers.push(above);
    else numbers.push(out.push({ ...row, parent: above }) - 1);
  }
  return out;
}

/** A shape whose slots show the same material in one place and others in another shares its points between both in the file. */
function sharingPoints(rows: readonly FoundRow[]): FoundRow[] {
  const byPositions = new Map<ArrayLike<number>, string>();
  const byHash = new Map<string, object>();
  const pointsOf = ({ positions }: FoundGeometry): object => {
    let hash = byPositions.get(positions);
    if (hash === undefined) byPositions.set(positions, (hash = hashBytes(new Uint8Array(Float32Array.from(positions).buffer)))); // prettier-ignore
    return byHash.get(hash) ?? byHash.set(hash, {}).get(hash)!;
  };
  return rows.map((row) => ({
    ...row,
    bodies: row.bodies.map((body) => ({ ...body, geometry: { ...body.geometry, points: pointsOf(body.geometry) } })),
  }));
}
