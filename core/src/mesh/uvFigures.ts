/**
 * How texture coordinates lie on a mesh: how many of them there are to a metre, how much they stretch, where they lie over each other.
 * Stretch is L2 of Sander, Snyder, Gortler and Hoppe, "Texture Mapping Progressive Meshes", SIGGRAPH 2001, 3: the mean length on the
 * surface of a step of one on the picture, over all directions and the area, of one where nothing is stretched.
 */
import type { Mesh } from './mesh.ts';

export interface UvFigures {
  /** Steps of one on the picture for each metre of the surface: mean over the area, smallest, largest. */
  perMetre: { mean: number; least: number; most: number };
  /** L2 stretch, 1 where there is none. */
  stretch: number;
  /** Share of the surface that has no area on the picture; it is left out of stretch and density. */
  collapsed: number;
  /** The longest and the shortest direction of the worst triangle, as a ratio: 1 where none is stretched. */
  worst: number;
  /** Share of the covered picture that is covered more than once. */
  overlap: number;
  /** Share of the surface on which pictures are mirrored. */
  mirrored: number;
  /** Share of the surface that lies outside of one picture. */
  outside: number;
  /** Share of one picture that is covered. */
  used: number;
  /** Surface, square metres. */
  area: number;
}

/** Cells across the box of the coordinates in which overlaps are counted. */
const CELLS = 1024;
/** Narrower than this share of its length a triangle is a line on the picture. */
const LINE = 1e-5;
/** Triangles of less area than this share of all say nothing of density: they are slivers. */
const SLIVER = 1e-9;

/** @param set of texture coordinates. @returns undefined where the mesh has no such set, or no surface */
export function uvFigures(mesh: Pick<Mesh, 'positions' | 'indices' | 'uvs'>, set = 0): UvFigures | undefined {
  const uv = mesh.uvs?.[set];
  const { positions: p, indices } = mesh;
  if (!uv || indices.length === 0) return undefined;
  let [area, flat, squares, density, mirrored, outside, collapsed] = [0, 0, 0, 0, 0, 0, 0];
  const whole = { area: 0 };
  const triangles = indices.length / 3;
  const singular = new Float64Array(triangles * 3);
  for (let t = 0; t < triangles; t++) {
    const [a, b, c] = [indices[t * 3], indices[t * 3 + 1], indices[t * 3 + 2]];
    // The triangle laid flat: first side along x.
    const [ux, uy, uz] = [p[b * 3] - p[a * 3], p[b * 3 + 1] - p[a * 3 + 1], p[b * 3 + 2] - p[a * 3 + 2]];
    const [vx, vy, vz] = [p[c * 3] - p[a * 3], p[c * 3 + 1] - p[a * 3 + 1], p[c * 3 + 2] - p[a * 3 + 2]];
    const length = Math.hypot(ux, uy, uz);
    const twice = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
    if (!(length > 0) || !(twice > 0)) continue;
    const x = (ux * vx + uy * vy + uz * vz) / length;
    const y = twice / length;
    // Steps on the picture for each metre along x and y.
    const [s1, t1] = [uv[b * 2] - uv[a * 2], uv[b * 2 + 1] - uv[a * 2 + 1]];
    const [s2, t2] = [uv[c * 2] - uv[a * 2], uv[c * 2 + 1] - uv[a * 2 + 1]];
    const [sx, tx] = [s1 / length, t1 / length];
    const [sy, ty] = [(s2 - sx * x) / y, (t2 - tx * x) / y];
    const determinant = sx * ty - sy * tx;
    const sum = sx * sx + tx * tx + sy * sy + ty * ty;
    const root = Math.sqrt(Math.max(0, sum * sum - 4 * determinant * determinant));
    singular[t * 3] = Math.sqrt((sum + root) / 2);
    singular[t * 3 + 1] = Math.sqrt(Math.max(0, (sum - root) / 2));
    singular[t * 3 + 2] = twice / 2;
    whole.area += twice / 2;
    // Rows of a picture go down: seen from outside, what is not mirrored turns the other way round.
    if (determinant > 0) mirrored += twice / 2;
    if ([a, b, c].some((v) => uv[v * 2] < -1e-6 || uv[v * 2] > 1 + 1e-6 || uv[v * 2 + 1] < -1e-6 || uv[v * 2 + 1] > 1 + 1e-6)) outside += twice / 2; // prettier-ignore
  }
  if (whole.area === 0) return undefined;
  let [least, most, worst] = [Infinity, 0, 1];
  for (let t = 0; t < triangles; t++) {
    const [large, small, own] = singular.subarray(t * 3, t * 3 + 3);
    if (own < whole.area * SLIVER) continue;
    if (small <= large * LINE) {
      collapsed += own;
      continue;
    }
    const here = Math.sqrt(large * small);
    area += own;
    density += here * own;
    least = Math.min(least, here);
    most = Math.max(most, here);
    flat += large * small * own;
    squares += ((1 / (large * large) + 1 / (small * small)) / 2) * own;
    worst = Math.max(worst, large / small);
  }
  const { overlap, used } = covered(uv, indices);
  // All of it lies in lines.
  if (area === 0) least = most = worst = 0;
  return {
    perMetre: { mean: area > 0 ? density / area : 0, least, most },
    stretch: area > 0 ? Math.sqrt(squares / area) * Math.sqrt(flat / area) : 0,
    collapsed: collapsed / whole.area,
    worst,
    overlap,
    mirrored: mirrored / whole.area,
    outside: outside / whole.area,
    used,
    area: whole.area,
  };
}

/** Counts over the box of the coordinates how often each cell is covered, by its middle; cells on a common side count once. */
function covered(uv: Float32Array, indices: Uint32Array): { overlap: number; used: number } {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const vertex of indices) {
    u0 = Math.min(u0, uv[vertex * 2]);
    u1 = Math.max(u1, uv[vertex * 2]);
    v0 = Math.min(v0, uv[vertex * 2 + 1]);
    v1 = Math.max(v1, uv[vertex * 2 + 1]);
  }
  const [width, height] = [u1 - u0, v1 - v0];
  if (!(width > 0) || !(height > 0)) return { overlap: 0, used: 0 };
  const counts = new Uint8Array(CELLS * CELLS);
  const [x, y] = [new Float64Array(3), new Float64Array(3)];
  for (let i = 0; i < indices.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      x[k] = ((uv[indices[i + k] * 2] - u0) / width) * CELLS;
      y[k] = ((uv[indices[i + k] * 2 + 1] - v0) / height) * CELLS;
    }
    const [top, bottom] = [Math.max(0, Math.ceil(Math.min(...y) - 0.5)), Math.min(CELLS, Math.ceil(Math.max(...y) - 0.5))]; // prettier-ignore
    for (let row = top; row < bottom; row++) {
      // Where the line through the middles of the row enters and leaves: each side counts where its ends lie on both sides of it.
      let [from, to] = [Infinity, -Infinity];
      const at = row + 0.5;
      for (let k = 0; k < 3; k++) {
        const n = (k + 1) % 3;
        if (y[k] <= at === y[n] <= at) continue;
        const cut = x[k] + ((at - y[k]) / (y[n] - y[k])) * (x[n] - x[k]);
        from = Math.min(from, cut);
        to = Math.max(to, cut);
      }
      const [left, right] = [Math.max(0, Math.ceil(from - 0.5)), Math.min(CELLS, Math.ceil(to - 0.5))];
      for (let column = left; column < right; column++)
        if (counts[row * CELLS + column] < 255) counts[row * CELLS + column]++;
    }
  }
  let [once, twice, inside] = [0, 0, 0];
  for (let row = 0; row < CELLS; row++)
    for (let column = 0; column < CELLS; column++) {
      const count = counts[row * CELLS + column];
      if (count === 0) continue;
      once++;
      if (count > 1) twice++;
      const [u, v] = [u0 + ((column + 0.5) / CELLS) * width, v0 + ((row + 0.5) / CELLS) * height];
      if (u >= 0 && u <= 1 && v >= 0 && v <= 1) inside++;
    }
  const cell = (width * height) / (CELLS * CELLS);
  return { overlap: once === 0 ? 0 : twice / once, used: inside * cell };
}
