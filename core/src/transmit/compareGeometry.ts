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

/** What the format does not carry is passed over. */
export function compareGeometry(
  sent: FoundGeometry,
  found: FoundGeometry | undefined,
  carries: Carries,
): GeometryDifference {
  const out: GeometryDifference = { positions: 0, normals: 0, uvs: 0, colours: 0, missing: [] };
  const [before, after] = [describe(sent), found ? describe(found) : 'nothing'];
  if (!found || before !== after) return { ...out, shape: `${before} became ${after}` };
  const count = cornersOf(sent);
  out.positions = farthest(sent, found, sent.positions, found.positions, 3, count);
  const both = (
    what: string,
    a: ArrayLike<number> | undefined,
    b: ArrayLike<number> | undefined,
    size: number,
  ): number => {
    if (a && b) return farthest(sent, found, a, b, size, count);
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

function cornersOf({ corners, positions }: FoundGeometry): number {
  return corners ? corners.length : positions.length / 3;
}

function describe(geometry: FoundGeometry): string {
  return `${cornersOf(geometry) / PER_ELEMENT[geometry.mode]} ${geometry.mode}`;
}

/** Largest difference of any value at any corner; what is no number differs without end. */
function farthest(
  a: FoundGeometry,
  b: FoundGeometry,
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  size: number,
  count: number,
): number {
  let most = 0;
  for (let corner = 0; corner < count; corner++) {
    const i = (a.corners ? a.corners[corner] : corner) * size;
    const k = (b.corners ? b.corners[corner] : corner) * size;
    for (let axis = 0; axis < size; axis++) {
      const difference = Math.abs(from[i + axis] - to[k + axis]);
      if (!(difference <= most)) most = Number.isNaN(difference) ? Infinity : difference;
    }
  }
  return most;
}
