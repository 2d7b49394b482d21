/** Compares the geometry of a body with what was found, corner by corner. */
import type { Carries } from '../write/aspects.ts';
import type { FoundGeometry } from './found.ts';

export interface GeometryDifference {
  /** Triangles, lines or points in place of those that were sent; undefined where it is the same kind and as many. */
  shape?: string;
  /** Largest differences: positions in metres, normals and colours from -1 to 1, texture coordinates in widths of a picture. */
  positions: number;
  normals: number;
  uvs: number;
  colours: number;
  /** Texture coordinates, colours or normals that are there on one side only. */
  missing: string[];
}

const PER_ELEMENT = { triangles: 3, lines: 2, points: 1 };

/**
 * What the format does not carry is passed over.
 * @param turned what packs triangles may begin each with another of its corners
 */
export function compareGeometry(
  sent: FoundGeometry,
  found: FoundGeometry | undefined,
  carries: Carries,
  turned = false,
): GeometryDifference {
  const out: GeometryDifference = { positions: 0, normals: 0, uvs: 0, colours: 0, missing: [] };
  const [before, after] = [describe(sent), found ? describe(found) : 'nothing'];
  if (!found || before !== after) return { ...out, shape: `${before} became ${after}` };
  const count = cornersOf(sent);
  const turns = turned && sent.mode === 'triangles' ? turnsOf(sent, found, count) : undefined;
  out.positions = farthest(sent, found, sent.positions, found.positions, 3, count, turns);
  const both = (
    what: string,
    a: ArrayLike<number> | undefined,
    b: ArrayLike<number> | undefined,
    size: number,
  ): number => {
    if (a && b) return farthest(sent, found, a, b, size, count, turns);
    if (a || b) out.missing.push(a ? `${what} became nothing` : `nothing became ${what}`);
    return 0;
  };
  if (carries.normals === true) out.normals = both('normals', sent.normals, found.normals, 3);
  if (carries.colours === true) out.colours = both('colours', sent.colours, found.colours, 4);
  const sets = carries.uvs !== true ? 0 : carries.moreUvs === true ? Math.max(sent.uvs.length, found.uvs.length) : 1;
  for (let set = 0; set < Math.min(sets, Math.max(sent.uvs.length, found.uvs.length)); set++)
    out.uvs = Math.max(out.uvs, both(`UV set ${set + 1}`, sent.uvs[set], found.uvs[set], 2));
  return out;
}

/** Largest difference of some values at any corner of two geometries of as many. */
export function cornersApart(
  a: FoundGeometry,
  b: FoundGeometry,
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  size: number,
): number {
  // prettier-ignore
  const count = cornersOf(a);
  return count === cornersOf(b) ? farthest(a, b, from, to, size, count) : Infinity;
}

function cornersOf({ corners, positions }: FoundGeometry): number {
  return corners ? corners.length : positions.length / 3;
}

function describe(geometry: FoundGeometry): string {
  return `${cornersOf(geometry) / PER_ELEMENT[geometry.mode]} ${geometry.mode}`;
}

/** With which of its corners each triangle begins in the file: that with which it lies nearest to the one that was sent. */
function turnsOf(a: FoundGeometry, b: FoundGeometry, count: number): Uint8Array {
  const out = new Uint8Array(count / 3);
  for (let t = 0; t < out.length; t++) {
    let best = Infinity;
    for (let turn = 0; turn < 3; turn++) {
      let most = 0;
      for (let c = 0; c < 3; c++) {
        const [i, k] = [t * 3 + c, t * 3 + ((c + turn) % 3)];
        const [from, to] = [(a.corners ? a.corners[i] : i) * 3, (b.corners ? b.corners[k] : k) * 3];
        for (let axis = 0; axis < 3; axis++)
          most = Math.max(most, Math.abs(a.positions[from + axis] - b.positions[to + axis]));
      }
      if (most < best) [best, out[t]] = [most, turn];
    }
  }
  return out;
}

/** Largest difference of any value at any corner; what is no number differs without end. */
function farthest(
  a: FoundGeometry,
  b: FoundGeometry,
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  size: number,
  count: number,
  turns?: Uint8Array,
): number {
  let most = 0;
  for (let corner = 0; corner < count; corner++) {
    const i = (a.corners ? a.corners[corner] : corner) * size;
    const other = turns ? corner - (corner % 3) + ((corner + turns[Math.floor(corner / 3)]) % 3) : corner;
    const k = (b.corners ? b.corners[other] : other) * size;
    for (let axis = 0; axis < size; axis++) {
      const difference = Math.abs(from[i + axis] - to[k + axis]);
      if (!(difference <= most)) most = Number.isNaN(difference) ? Infinity : difference;
    }
  }
  return most;
}
