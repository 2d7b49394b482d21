/** What a mesh weighs, so to speak: area and volume with their centres, and whether it is closed, so that it has a volume at all. */
import { HashTable } from './hashTable.ts';
import { boundsOf, massProperties, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { areaOf } from './region.ts';
import { SNAP_SHARE, snapPositions } from './weld.ts';

export interface MassInput {
  /** Packed mesh. */
  mesh: Uint8Array;
}

export interface MassOutput {
  isClosed: boolean;
  /** Square metres, and the centre of it. */
  area: number;
  areaCentre: [number, number, number];
  /** Cubic metres, and the centre of it; of a closed mesh only. */
  volume?: number;
  centroid?: [number, number, number];
}

export async function mass({ mesh: packed }: MassInput): Promise<MassOutput> {
  const mesh = unpackMesh(packed);
  const { area, centre } = areaOf(mesh, { *[Symbol.iterator]() { for (let i = 0; i < mesh.indices.length / 3; i++) yield i; } }); // prettier-ignore
  const closed = isClosed(mesh);
  const { volume, centroid } = massProperties(mesh);
  return {
    isClosed: closed,
    area,
    areaCentre: centre,
    ...(closed && volume !== 0 ? { volume: Math.abs(volume), centroid } : {}),
  };
}

/** True where every edge is gone along as often in one direction as in the other, corners that lie on one point taken as one. */
export function isClosed({ positions, indices }: Pick<Mesh, 'positions' | 'indices'>): boolean {
  if (indices.length === 0) return false;
  const { min, max } = boundsOf(positions);
  const { point } = snapPositions(
    positions,
    Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) * SNAP_SHARE,
  );
  const table = new HashTable(indices.length);
  const { heads, next } = table;
  const balance = new Int32Array(indices.length);
  let open = 0;
  const from = (half: number) => point[indices[half]];
  const to = (half: number) => point[indices[half % 3 === 2 ? half - 2 : half + 1]];
  search: for (let half = 0; half < indices.length; half++) {
    const [a, b] = [from(half), to(half)];
    if (a === b) continue;
    const way = a < b ? 1 : -1;
    const place = table.placeOf(Math.min(a, b), Math.max(a, b), 0);
    for (let other = heads[place]; other >= 0; other = next[other]) {
      const [c, d] = [from(other), to(other)];
      if (!((c === a && d === b) || (c === b && d === a))) continue;
      open += Math.abs(balance[other] + way) - Math.abs(balance[other]);
      balance[other] += way;
      continue search;
    }
    balance[half] = way;
    open++;
    table.add(half, place);
  }
  return open === 0;
}
