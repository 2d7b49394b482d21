/**
 * Snaps vertices that lie within a tolerance of each other to one position, so that seams between faces do not crack when
 * the mesh is reduced. Rounding alone would part neighbours that fall on two sides of a cell border; neighbours are searched.
 */

/** How close two vertices must be, as a share of the mesh's diagonal, to count as one point. */
export const SNAP_SHARE = 2e-6;

/**
 * @param positions x, y, z per vertex, metres
 * @param tolerance metres
 * @returns positions of the same length, where vertices within the tolerance of an earlier one took its place
 */
export function snapPositions(positions: Float32Array, tolerance: number): Float32Array {
  const out = positions.slice();
  const cell = Math.max(tolerance, Number.MIN_VALUE) * 2;
  const heads = new Map<number, number>();
  const next = new Int32Array(positions.length / 3).fill(-1);
  const squared = tolerance * tolerance;
  const keyOf = (x: number, y: number, z: number) =>
    (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) >>> 0;
  for (let v = 0; v < next.length; v++) {
    const x = positions[v * 3];
    const y = positions[v * 3 + 1];
    const z = positions[v * 3 + 2];
    // The point lies within half a cell of at most two cells per axis: eight to look at, not twenty-seven.
    const cx = Math.floor(x / cell);
    const cy = Math.floor(y / cell);
    const cz = Math.floor(z / cell);
    const sx = x / cell - cx < 0.5 ? -1 : 1;
    const sy = y / cell - cy < 0.5 ? -1 : 1;
    const sz = z / cell - cz < 0.5 ? -1 : 1;
    let found = -1;
    search: for (let i = 0; i < 8; i++) {
      const key = keyOf(cx + (i & 1 ? sx : 0), cy + (i & 2 ? sy : 0), cz + (i & 4 ? sz : 0));
      for (let other = heads.get(key) ?? -1; other >= 0; other = next[other]) {
        const dx = positions[other * 3] - x;
        const dy = positions[other * 3 + 1] - y;
        const dz = positions[other * 3 + 2] - z;
        if (dx * dx + dy * dy + dz * dz <= squared) {
          found = other;
          break search;
        }
      }
    }
    if (found >= 0) {
      out.copyWithin(v * 3, found * 3, found * 3 + 3);
    } else {
      const key = keyOf(cx, cy, cz);
      next[v] = heads.get(key) ?? -1;
      heads.set(key, v);
    }
  }
  return out;
}

/** Number per vertex, equal for vertices at exactly the same position. */
export function samePosition(positions: Float32Array): Uint32Array {
  // Adding zero turns -0 into 0: two names for one place.
  const bits = new Uint32Array(positions.map((value) => value + 0).buffer);
  const seen = new Map<number, number[]>();
  const out = new Uint32Array(positions.length / 3);
  search: for (let v = 0; v < out.length; v++) {
    const key =
      (Math.imul(bits[v * 3], 73856093) ^
        Math.imul(bits[v * 3 + 1], 19349663) ^
        Math.imul(bits[v * 3 + 2], 83492791)) >>>
      0;
    const bucket = seen.get(key);
    for (const other of bucket ?? []) {
      if (
        positions[other * 3] === positions[v * 3] &&
        positions[other * 3 + 1] === positions[v * 3 + 1] &&
        positions[other * 3 + 2] === positions[v * 3 + 2]
      ) {
        out[v] = other;
        continue search;
      }
    }
    out[v] = v;
    if (bucket) bucket.push(v);
    else seen.set(key, [v]);
  }
  return out;
}
