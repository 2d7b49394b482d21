/**
 * Snaps vertices that lie within a tolerance of each other to one position, so that seams between faces do not crack when
 * the mesh is reduced. Rounding alone would part neighbours that fall on two sides of a cell border; neighbours are searched.
 */
import { HashTable } from './hashTable.ts';

/** How close two vertices must be, as a share of the mesh's diagonal, to count as one point. */
export const SNAP_SHARE = 2e-6;

/** Width of a cell of the neighbour search, in tolerances. */
const CELL = 32;

/**
 * @param positions x, y, z per vertex, metres
 * @param tolerance metres
 * @returns positions of the same length, where vertices within the tolerance of an earlier one took its place; and the number of
 * that earlier vertex per vertex, equal for all that lie on one point
 */
export function snapPositions(
  positions: Float32Array,
  tolerance: number,
): { positions: Float32Array; point: Uint32Array } {
  const out = positions.slice();
  const point = new Uint32Array(positions.length / 3);
  // Cells much wider than the tolerance: nearly every point has all its neighbours in its own.
  const cell = Math.max(tolerance, Number.MIN_VALUE) * CELL;
  const table = new HashTable(positions.length / 3);
  const { heads, next } = table;
  const squared = tolerance * tolerance;
  const border = 1 / CELL;
  for (let v = 0; v < next.length; v++) {
    const x = positions[v * 3];
    const y = positions[v * 3 + 1];
    const z = positions[v * 3 + 2];
    const cx = Math.floor(x / cell);
    const cy = Math.floor(y / cell);
    const cz = Math.floor(z / cell);
    const sx = towards(x / cell - cx, border);
    const sy = towards(y / cell - cy, border);
    const sz = towards(z / cell - cz, border);
    let found = -1;
    search: for (let i = 0; i < 8; i++) {
      if ((i & 1 && sx === 0) || (i & 2 && sy === 0) || (i & 4 && sz === 0)) continue;
      const place = table.placeOf(cx + (i & 1 ? sx : 0), cy + (i & 2 ? sy : 0), cz + (i & 4 ? sz : 0));
      for (let other = heads[place]; other >= 0; other = next[other]) {
        const dx = positions[other * 3] - x;
        const dy = positions[other * 3 + 1] - y;
        const dz = positions[other * 3 + 2] - z;
        if (dx * dx + dy * dy + dz * dz <= squared) {
          found = other;
          break search;
        }
      }
    }
    point[v] = found >= 0 ? found : v;
    if (found >= 0) {
      out[v * 3] = positions[found * 3];
      out[v * 3 + 1] = positions[found * 3 + 1];
      out[v * 3 + 2] = positions[found * 3 + 2];
    } else table.add(v, table.placeOf(cx, cy, cz));
  }
  return { positions: out, point };
}

/** Cell that a point this far into its own may have neighbours in, on one axis: -1, 0 or 1. */
function towards(share: number, border: number): number {
  return share <= border ? -1 : share >= 1 - border ? 1 : 0;
}

/** Number per vertex, equal for vertices at exactly the same position. */
export function samePosition(positions: Float32Array): Uint32Array {
  // Adding zero turns -0 into 0: two names for one place.
  const bits = new Int32Array(positions.map((value) => value + 0).buffer);
  const out = new Uint32Array(positions.length / 3);
  const table = new HashTable(out.length);
  const { heads, next } = table;
  search: for (let v = 0; v < out.length; v++) {
    const place = table.placeOf(bits[v * 3], bits[v * 3 + 1], bits[v * 3 + 2]);
    for (let other = heads[place]; other >= 0; other = next[other]) {
      if (
        bits[other * 3] === bits[v * 3] &&
        bits[other * 3 + 1] === bits[v * 3 + 1] &&
        bits[other * 3 + 2] === bits[v * 3 + 2]
      ) {
        out[v] = other;
        continue search;
      }
    }
    out[v] = v;
    table.add(v, place);
  }
  return out;
}
