/**
 * Distance between two surfaces, in both directions: the largest, and the mean over the area (two-sided Hausdorff and mean distance
 * as in Cignoni, Rocchini and Scopigno, "Metro", 1998).
 *
 * The mean comes from points spread evenly. They would miss the largest: it sits in one place. That is searched for by bounds over
 * whole triangles (as in Tang, Lee and Kim, "Interactive Hausdorff distance computation for general polygonal models", 2009): the
 * distance from one triangle of the other surface is convex, so that over a piece it is nowhere larger than at one of the piece's
 * corners. The piece whose bound is largest is cut in two until no bound is much above the largest distance that was found.
 */
import { boundsOf } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { Surface } from './surface.ts';

type Triangles = Pick<Mesh, 'positions' | 'indices'>;

export interface DeviationOptions {
  /** Points spread evenly over the area of each surface, for the mean. */
  samples: number;
  /** Not searched on where more than this was found: it is too much already. Metres. */
  enough: number;
}

export const DEVIATION_DEFAULTS: DeviationOptions = { samples: 2500, enough: Infinity };

export interface Deviation {
  /** Largest distance, metres: found at a point, and exceeded nowhere by more than `TOLERANCE` unless the search was given up. */
  max: number;
  /** Mean over the area of the surface that is farther from the other, metres. */
  mean: number;
}

/** The search ends when nowhere more than this share above the largest distance found is possible. */
const TOLERANCE = 0.02;
/** And below this share of the size, where single precision blurs everything. */
const BLUR = 1e-6;
/** Pieces that are looked at before a search is given up: at least, at most, and in between by the triangles of both surfaces. */
const PIECES = { least: 2_000, most: 20_000 };

/** Golden ratio's fraction and the plastic number's: steps of low-discrepancy sequences, so that the result is the same each time. */
const STEP_1 = 0.6180339887498949;
const STEP_2 = [0.7548776662466927, 0.5698402909980532];

export function measureDeviation(a: Triangles, b: Triangles, options: Partial<DeviationOptions> = {}): Deviation {
  const { samples, enough } = { ...DEVIATION_DEFAULTS, ...options };
  if (a.indices.length === 0 || b.indices.length === 0) return { max: 0, mean: 0 };
  const [onA, onB] = [new Surface(a), new Surface(b)];
  const forth = evenly(a, onB, samples);
  const back = evenly(b, onA, samples);
  const mean = Math.max(forth.mean, back.mean);
  const { min, max } = boundsOf(a.positions);
  const size = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const all = (a.indices.length + b.indices.length) / 3;
  const pieces = Math.min(PIECES.most, Math.max(PIECES.least, all));
  const limits = { blur: size * BLUR, pieces, enough };
  let largest = Math.max(forth.max, back.max);
  if (largest <= enough) largest = new Search(a, onB, largest, limits).run();
  if (largest <= enough) largest = new Search(b, onA, largest, limits).run();
  return { max: largest, mean };
}

/** Points spread evenly over the area. */
function evenly({ positions: p, indices }: Triangles, other: Surface, samples: number): { max: number; mean: number } {
  const triangles = indices.length / 3;
  const cumulative = new Float64Array(triangles);
  let area = 0;
  for (let t = 0; t < triangles; t++) {
    area += triangleArea(p, indices, t);
    cumulative[t] = area;
  }
  let max = 0;
  let sum = 0;
  let t = 0;
  let near = 0;
  let u = 0.5;
  let v = 0.5;
  for (let s = 0; s < samples; s++) {
    const target = ((s + STEP_1) / samples) * area;
    while (t < triangles - 1 && cumulative[t] < target) t++;
    u = (u + STEP_2[0]) % 1;
    v = (v + STEP_2[1]) % 1;
    const root = Math.sqrt(u);
    const [wa, wb, wc] = [1 - root, root * (1 - v), root * v];
    const [a, b, c] = [indices[t * 3] * 3, indices[t * 3 + 1] * 3, indices[t * 3 + 2] * 3];
    const distance = other.distance(
      p[a] * wa + p[b] * wb + p[c] * wc,
      p[a + 1] * wa + p[b + 1] * wb + p[c + 1] * wc,
      p[a + 2] * wa + p[b + 2] * wb + p[c + 2] * wc,
      near,
    );
    near = other.nearest;
    sum += distance;
    if (distance > max) max = distance;
  }
  return { max, mean: sum / samples };
}

function triangleArea(p: Float32Array, indices: Uint32Array, t: number): number {
  const [a, b, c] = [indices[t * 3] * 3, indices[t * 3 + 1] * 3, indices[t * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}

/** A corner of a piece: a point, and the triangle of the other surface that was found for it. */
interface Corner {
  x: number;
  y: number;
  z: number;
  near: number;
}

interface Piece {
  corners: [Corner, Corner, Corner];
  /** No point of the piece is farther than this from the other surface, metres. */
  bound: number;
}

/** The search for the place of a surface that is farthest from another one. */
class Search {
  /** A binary heap, the largest bound first. */
  readonly #heap: Piece[] = [];
  #looked = 0;

  constructor(
    private readonly from: Triangles,
    private readonly other: Surface,
    private largest: number,
    private readonly limits: { blur: number; pieces: number; enough: number },
  ) {}

  run(): number {
    // (1) Every vertex. Most have a triangle within the largest distance so far, and are done with the first that is tried.
    const { positions: p, indices } = this.from;
    const corners: (Corner | undefined)[] = new Array<Corner | undefined>(p.length / 3);
    let near = 0;
    for (const v of indices) {
      if (corners[v]) continue;
      const corner = this.#corner(p[v * 3], p[v * 3 + 1], p[v * 3 + 2], near);
      near = corner.near;
      corners[v] = corner;
    }
    // (2) The middle of every edge: where an edge of the one crosses a valley of the other, no vertex is near.
    for (let i = 0; i < indices.length; i++) {
      const [v, w] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]];
      // Each edge once: its other triangle has it the other way round.
      if (v > w) continue;
      const [a, b] = [corners[v]!, corners[w]!];
      this.#corner((a.x + b.x) / 2, (a.y + b.y) / 2, (a.z + b.z) / 2, a.near);
    }
    // (3) Every triangle that may hold more.
    for (let i = 0; i < indices.length; i += 3)
      this.#consider([corners[indices[i]]!, corners[indices[i + 1]]!, corners[indices[i + 2]]!]);
    // (4) The most promising piece is cut, until none promises more.
    for (let piece = this.#pop(); piece; piece = this.#pop()) {
      if (this.#holds(piece.bound) || this.#looked > this.limits.pieces || this.largest > this.limits.enough) break;
      this.#cut(piece);
    }
    return this.largest;
  }

  #corner(x: number, y: number, z: number, near: number): Corner {
    const distance = this.other.distance(x, y, z, near, this.largest);
    if (distance > this.largest) this.largest = distance;
    return { x, y, z, near: this.other.nearest };
  }

  #holds(bound: number): boolean {
    return bound <= this.largest * (1 + TOLERANCE) + this.limits.blur;
  }

  #consider(corners: Piece['corners']): void {
    let bound = Infinity;
    for (let i = 0; i < 3; i++) {
      const { near } = corners[i];
      if ((i > 0 && near === corners[0].near) || (i > 1 && near === corners[1].near)) continue;
      let farthest = 0;
      for (const { x, y, z } of corners) farthest = Math.max(farthest, this.other.distanceFrom(near, x, y, z));
      bound = Math.min(bound, farthest);
      if (this.#holds(bound)) return;
    }
    this.#push({ corners, bound });
  }

  /** Cuts the longest side: where it passes from the reach of one triangle into that of the other, or else in its middle. */
  #cut({ corners }: Piece): void {
    let longest = 0;
    let at = 0;
    for (let i = 0; i < 3; i++) {
      const [a, b] = [corners[i], corners[(i + 1) % 3]];
      const length = (a.x - b.x) ** 2 + (a.y - b.y) ** 2 + (a.z - b.z) ** 2;
      if (length > longest) [longest, at] = [length, i];
    }
    const [a, b, c] = [corners[at], corners[(at + 1) % 3], corners[(at + 2) % 3]];
    const share = a.near === b.near ? 0.5 : this.#border(a, b);
    const [x, y, z] = [a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share, a.z + (b.z - a.z) * share];
    this.#looked++;
    const middle = this.#corner(x, y, z, share < 0.5 ? a.near : b.near);
    this.#consider([a, middle, c]);
    this.#consider([middle, b, c]);
  }

  /** Where between two corners their two triangles are equally far, kept from the ends. */
  #border(a: Corner, b: Corner): number {
    let [low, high] = [0, 1];
    for (let step = 0; step < 5; step++) {
      const share = (low + high) / 2;
      const [x, y, z] = [a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share, a.z + (b.z - a.z) * share];
      if (this.other.distanceFrom(a.near, x, y, z) < this.other.distanceFrom(b.near, x, y, z)) low = share;
      else high = share;
    }
    return Math.min(0.9, Math.max(0.1, (low + high) / 2));
  }

  #push(piece: Piece): void {
    const heap = this.#heap;
    let at = heap.push(piece) - 1;
    while (at > 0) {
      const parent = (at - 1) >> 1;
      if (heap[parent].bound >= piece.bound) break;
      heap[at] = heap[parent];
      at = parent;
    }
    heap[at] = piece;
  }

  #pop(): Piece | undefined {
    const heap = this.#heap;
    const [top] = heap;
    const last = heap.pop();
    if (heap.length === 0 || !last) return top;
    let at = 0;
    for (;;) {
      let child = at * 2 + 1;
      if (child >= heap.length) break;
      if (child + 1 < heap.length && heap[child + 1].bound > heap[child].bound) child++;
      if (heap[child].bound <= last.bound) break;
      heap[at] = heap[child];
      at = child;
    }
    heap[at] = last;
    return top;
  }
}
