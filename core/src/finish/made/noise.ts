/** Noise that repeats: what leaves a tile on the right comes in on the left. All functions take u and v in tiles and repeat with 1. */

/** A number from 0 to 1 for a place of a lattice. */
export function scattered(x: number, y: number, seed: number): number {
  let hash = Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(seed, 0x9e3779b1);
  hash = Math.imul(hash ^ (hash >>> 15), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return ((hash ^ (hash >>> 16)) >>> 0) / 4294967296;
}

const wrap = (x: number, period: number) => ((x % period) + period) % period;
/** Quintic, so that slopes have no kinks (Perlin, Improving Noise, 2002). */
const smooth = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);

/** Value noise, 0 to 1. @param across lattice places in a tile, whole numbers */
export function noise(u: number, v: number, across: number, along: number, seed: number): number {
  const [x, y] = [u * across, v * along];
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [s, t] = [smooth(x - i), smooth(y - j)];
  const at = (a: number, b: number) => scattered(wrap(a, across), wrap(b, along), seed);
  const top = at(i, j) + (at(i + 1, j) - at(i, j)) * s;
  const bottom = at(i, j + 1) + (at(i + 1, j + 1) - at(i, j + 1)) * s;
  return top + (bottom - top) * t;
}

/** Noise of several sizes, each half of the one before; 0 to 1. */
export function clouds(u: number, v: number, across: number, along: number, octaves: number, seed: number): number {
  let [sum, whole, weight] = [0, 0, 1];
  for (let octave = 0; octave < octaves; octave++) {
    sum += weight * noise(u, v, across * 2 ** octave, along * 2 ** octave, seed + octave);
    whole += weight;
    weight /= 2;
  }
  return sum / whole;
}

export interface Cell {
  /** Distance to the nearest point and to the next one, in lattice places. */
  near: number;
  next: number;
  /** A number from 0 to 1 that belongs to the nearest point. */
  id: number;
}

const CELL: Cell = { near: 0, next: 0, id: 0 };

/** Points scattered over a lattice, one in each place (Worley 1996). The result is overwritten by the next call. */
export function cell(u: number, v: number, across: number, along: number, seed: number, order = 1): Cell {
  const [x, y] = [u * across, v * along];
  const [i, j] = [Math.floor(x), Math.floor(y)];
  CELL.near = CELL.next = Infinity;
  for (let b = j - 1; b <= j + 1; b++)
    for (let a = i - 1; a <= i + 1; a++) {
      const [p, q] = [wrap(a, across), wrap(b, along)];
      const px = a + 0.5 + order * (scattered(p, q, seed) - 0.5);
      const py = b + 0.5 + order * (scattered(p, q, seed + 1) - 0.5);
      const distance = Math.hypot(px - x, py - y);
      if (distance < CELL.near) {
        CELL.next = CELL.near;
        CELL.near = distance;
        CELL.id = scattered(p, q, seed + 2);
      } else if (distance < CELL.next) CELL.next = distance;
    }
  return CELL;
}

export interface Stone {
  /** Distance from the nearest edge, metres. */
  edge: number;
  /** A number from 0 to 1 that belongs to the stone. */
  id: number;
  /** Place within the stone, 0 to 1. */
  s: number;
  t: number;
}

const STONE: Stone = { edge: 0, id: 0, s: 0, t: 0 };

/**
 * A bond of equal stones. The result is overwritten by the next call.
 * @param across stones in a tile, whole numbers; `along` is even where rows are offset. @param size length of the tile, metres
 */
export function bond(u: number, v: number, across: number, along: number, offset: number, size: number): Stone {
  const row = Math.floor(wrap(v, 1) * along);
  const x = wrap(u, 1) * across + (row % 2) * offset;
  const column = wrap(Math.floor(x), across);
  STONE.s = x - Math.floor(x);
  STONE.t = wrap(v, 1) * along - row;
  const [wide, high] = [size / across, size / along];
  STONE.edge = Math.min(Math.min(STONE.s, 1 - STONE.s) * wide, Math.min(STONE.t, 1 - STONE.t) * high);
  STONE.id = scattered(column, row, 77);
  return STONE;
}

/** 0 below one end, 1 above the other, without kinks. */
export function ramp(from: number, to: number, x: number): number {
  const t = Math.min(1, Math.max(0, (x - from) / (to - from)));
  return t * t * (3 - 2 * t);
}
