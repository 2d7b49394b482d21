/**
 * How much larger the geometry of rows stands in the job than it is by itself. Figures of a mesh are those of the mesh: a length of the
 * job is one of them times this.
 */
import { GONE } from './nodes.ts';
import type { NodeTable } from './nodes.ts';
import { multiplyAt, STRIDE } from './places.ts';
import type { RowSet } from './rowSet.ts';

/** Relative differences of sides and angles below this are rounding: the place only moves, turns and scales evenly. */
const EVEN = 1e-12;

/**
 * The largest factor by which a place makes a length longer, in any direction: the largest singular value of its linear part. Where it
 * scales evenly all directions have it.
 * @param values three columns of three numbers
 */
export function largestStretch(values: ArrayLike<number>, at = 0): number {
  const [b, c] = [at + 3, at + 6];
  const dot = (p: number, q: number) =>
    values[p] * values[q] + values[p + 1] * values[q + 1] + values[p + 2] * values[q + 2];
  // The Gram matrix: its eigenvalues are the squares of the singular values.
  const [xx, yy, zz, xy, xz, yz] = [dot(at, at), dot(b, b), dot(c, c), dot(at, b), dot(at, c), dot(b, c)];
  const off = xy * xy + xz * xz + yz * yz;
  const most = Math.max(xx, yy, zz);
  if (off <= EVEN * EVEN * most * most) return Math.sqrt(most);
  // Eigenvalues of a symmetric 3 × 3 matrix by the trigonometric formula (Smith, Communications of the ACM 4 (1961), p. 168).
  const mean = (xx + yy + zz) / 3;
  const spread = Math.sqrt(((xx - mean) ** 2 + (yy - mean) ** 2 + (zz - mean) ** 2 + 2 * off) / 6);
  const [p, q, r] = [(xx - mean) / spread, (yy - mean) / spread, (zz - mean) / spread];
  const [s, t, u] = [xy / spread, xz / spread, yz / spread];
  const half = (p * (q * r - u * u) - s * (s * r - u * t) + t * (s * u - q * t)) / 2;
  const angle = Math.acos(Math.max(-1, Math.min(1, half))) / 3;
  return Math.sqrt(mean + 2 * spread * Math.cos(angle));
}

/** Where the geometry of each row stands in the world: twelve numbers in `values` from `at`; good until the next row. */
function* geometryPlaces(
  { rows, columns, tables }: NodeTable,
  worlds: Float64Array,
): Generator<{ row: number; values: Float64Array; at: number }> {
  const { kind, offset } = columns;
  const own = new Float64Array(STRIDE);
  const place = { row: 0, values: worlds, at: 0 };
  for (let row = 0; row < rows; row++) {
    if (kind[row] === GONE) continue;
    place.row = row;
    [place.values, place.at] = [worlds, row * STRIDE];
    if (offset[row] > 0) {
      const { values, at } = tables.places.locate(offset[row]);
      multiplyAt(worlds, row * STRIDE, values, at, own, 0);
      [place.values, place.at] = [own, 0];
    }
    yield place;
  }
}

/** Largest stretch of the geometry of each row, with the offset from its pivot. @param worlds places in the world, {@link STRIDE} numbers each */
export function stretchesOf(nodes: NodeTable, worlds: Float64Array): Float64Array {
  const out = new Float64Array(nodes.rows);
  for (const { row, values, at } of geometryPlaces(nodes, worlds)) out[row] = largestStretch(values, at);
  return out;
}

/** How much larger the geometry of each row stands, over all directions: the third root of how much more room it takes. */
export function enlargementsOf(nodes: NodeTable, worlds: Float64Array): Float64Array {
  const out = new Float64Array(nodes.rows);
  for (const { row, values, at } of geometryPlaces(nodes, worlds)) {
    const [a, b, c, d, e, f, g, h, i] = values.subarray(at, at + 9);
    out[row] = roundedStretch(Math.cbrt(Math.abs(a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g))));
  }
  return out;
}

/** What of a scene says how large its shapes are. */
interface Sized {
  nodes: NodeTable;
  meshes: Record<string, { bounds: { min: readonly number[]; max: readonly number[] } }>;
  solids: Record<string, { extent: number }>;
}

/**
 * Longest side of each row as it stands in the job, along the axes of its own geometry, metres: from its mesh, or roughly from its solid;
 * -1 where it has neither.
 */
export function longestSidesOf({ nodes, meshes, solids }: Sized, worlds: Float64Array): Float64Array {
  const { mesh, solid } = nodes.columns;
  const { words } = nodes.tables;
  const out = new Float64Array(nodes.rows).fill(-1);
  /** Of each shape once: few shapes stand for many rows. */
  const known: (readonly number[] | undefined)[] = [];
  for (const { row, values, at } of geometryPlaces(nodes, worlds)) {
    const shape = mesh[row] || solid[row];
    if (shape === 0) continue;
    known[shape] ??= mesh[row] > 0 ? sidesOf(meshes[words.get(shape)]) : roughly(solids[words.get(shape)]);
    const sides = known[shape];
    if (sides.length === 1) out[row] = sides[0] * largestStretch(values, at);
    for (let axis = 0; sides.length === 3 && axis < 3; axis++) {
      const column = at + axis * 3;
      out[row] = Math.max(out[row], sides[axis] * Math.hypot(values[column], values[column + 1], values[column + 2]));
    }
  }
  return out;
}

const sidesOf = (figures: Sized['meshes'][string] | undefined): readonly number[] =>
  figures ? [0, 1, 2].map((axis) => Math.max(0, figures.bounds.max[axis] - figures.bounds.min[axis])) : [];
const roughly = (info: Sized['solids'][string] | undefined): readonly number[] => (info ? [info.extent] : []);

/**
 * Largest stretch of each shape, by the number of its word; 0 where no row has it.
 * @param stretches of all rows
 * @param rows only these are looked at; all where absent
 */
export function stretchOfShapes(
  nodes: NodeTable,
  column: 'mesh' | 'solid',
  stretches: Float64Array,
  rows?: RowSet,
): Float64Array {
  const { kind, [column]: shapes } = nodes.columns;
  const out = new Float64Array(nodes.tables.words.length);
  for (let row = 0; row < nodes.rows; row++)
    if (shapes[row] > 0 && kind[row] !== GONE && stretches[row] > out[shapes[row]] && (rows?.has(row) ?? true))
      out[shapes[row]] = stretches[row];
  return out;
}

/** As it goes into keys and limits: places that are the same but for rounding have the same, and what only turns has 1. */
export function roundedStretch(stretch: number): number {
  const rounded = Number(stretch.toPrecision(6));
  // What is squeezed to nothing is no length to divide by.
  return rounded > 0 && Number.isFinite(rounded) ? rounded : 1;
}
