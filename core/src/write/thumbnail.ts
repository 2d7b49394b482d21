/**
 * A small picture of a part, drawn without a graphics card: from above on one side, in the colours of its materials, under light from the
 * upper left. Not a rendering; it is there to tell one asset from another.
 */
import { srgbFromLinear } from '../finish/colour.ts';
import type { PlacedMesh } from '../mesh/placed.ts';
import type { Picture } from '../surroundings.ts';

export interface ThumbnailOptions {
  /** Linear red, green and blue of each slot, 0 to 1. */
  colourOf(slot: number): readonly [number, number, number];
  /** Pixels of a side. */
  size?: number;
}

const SIZE = 256;
/** Points drawn for each pixel and direction, so that edges are smooth. */
const FINE = 2;
/** Share of the picture that stays free on each side. */
const MARGIN = 0.06;
/** Where it is looked at from: turned about the upright axis (y), then tipped, radians. */
const [TURN, TIP] = [-0.65, 0.42];
/** To the light, as seen in the picture, length one; and what every face has of it. */
const LIGHT = [-0.45, 0.65, 0.61] as const;
const AMBIENT = 0.35;
/** What has no colour of its own: lines and points. */
const INK = [0.02, 0.02, 0.03] as const;

/** @returns RGBA, see-through where there is nothing */
export function thumbnail(mesh: PlacedMesh, { colourOf, size = SIZE }: ThumbnailOptions): Picture {
  const side = size * FINE;
  const solid = mesh.indices.length > 0;
  const points = inView(solid || mesh.positions.length > 0 ? mesh.positions : mesh.edges, side);
  const fine = new Canvas(side);
  if (!solid) for (let i = 0; i < points.length; i += 3) fine.dot(points[i], points[i + 1], points[i + 2], INK);
  for (const { slot, start, count } of mesh.groups) {
    const colour = colourOf(slot);
    for (let i = start; i < start + count; i += 3) {
      const [a, b, c] = [mesh.indices[i] * 3, mesh.indices[i + 1] * 3, mesh.indices[i + 2] * 3];
      fine.triangle(points, a, b, c, colour);
    }
  }
  return { width: size, height: size, data: fine.smaller(size) };
}

/** Points turned to the eye and fitted into a square: x to the right, y down, z to the eye, all in its points. */
function inView(positions: ArrayLike<number>, side: number): Float64Array {
  const [sinTurn, cosTurn, sinTip, cosTip] = [Math.sin(TURN), Math.cos(TURN), Math.sin(TIP), Math.cos(TIP)];
  const out = new Float64Array(positions.length);
  const min = [Infinity, Infinity];
  const max = [-Infinity, -Infinity];
  for (let i = 0; i < out.length; i += 3) {
    const [x, y, z] = [positions[i], positions[i + 1], positions[i + 2]];
    const across = cosTurn * x + sinTurn * z;
    const deep = -sinTurn * x + cosTurn * z;
    const seen = [across, -(cosTip * y - sinTip * deep), sinTip * y + cosTip * deep];
    for (let k = 0; k < 3; k++) out[i + k] = seen[k];
    for (let k = 0; k < 2; k++) {
      min[k] = Math.min(min[k], seen[k]);
      max[k] = Math.max(max[k], seen[k]);
    }
  }
  const reach = Math.max(max[0] - min[0], max[1] - min[1]) || 1;
  const scale = (side * (1 - 2 * MARGIN)) / reach;
  for (let i = 0; i < out.length; i += 3) {
    for (let k = 0; k < 2; k++) out[i + k] = side / 2 + (out[i + k] - (min[k] + max[k]) / 2) * scale;
    out[i + 2] *= scale;
  }
  return out;
}

type Colour = readonly [number, number, number];

/** What is nearest to the eye at each point, in linear colours. */
class Canvas {
  readonly #depth: Float32Array;
  readonly #colour: Float32Array;

  constructor(readonly side: number) {
    this.#depth = new Float32Array(side * side).fill(-Infinity);
    this.#colour = new Float32Array(side * side * 3);
  }

  dot(x: number, y: number, z: number, colour: Colour): void {
    const [at, row] = [Math.floor(x), Math.floor(y)];
    if (at >= 0 && row >= 0 && at < this.side && row < this.side) this.#put(row * this.side + at, z, colour);
  }

  /** Both sides are drawn: a face that is seen from behind is lit as if it faced the eye. */
  triangle(points: Float64Array, a: number, b: number, c: number, colour: Colour): void {
    const [ax, ay, az] = [points[a], points[a + 1], points[a + 2]];
    const [ux, uy, uz] = [points[b] - ax, points[b + 1] - ay, points[b + 2] - az];
    const [vx, vy, vz] = [points[c] - ax, points[c + 1] - ay, points[c + 2] - az];
    const area = ux * vy - uy * vx;
    if (area === 0 || !Number.isFinite(area)) return;
    const normal = [uy * vz - uz * vy, uz * vx - ux * vz, area];
    const length = Math.hypot(...normal) * (area < 0 ? -1 : 1);
    // The picture has y down, light has it up.
    const light = (normal[0] * LIGHT[0] - normal[1] * LIGHT[1] + normal[2] * LIGHT[2]) / length;
    const bright = AMBIENT + (1 - AMBIENT) * Math.max(0, light);
    const lit = colour.map((value) => value * bright) as unknown as Colour;
    const top = Math.max(0, Math.floor(Math.min(ay, ay + uy, ay + vy)));
    const low = Math.min(this.side - 1, Math.ceil(Math.max(ay, ay + uy, ay + vy)));
    const left = Math.max(0, Math.floor(Math.min(ax, ax + ux, ax + vx)));
    const right = Math.min(this.side - 1, Math.ceil(Math.max(ax, ax + ux, ax + vx)));
    for (let row = top; row <= low; row++)
      for (let at = left; at <= right; at++) {
        const [px, py] = [at + 0.5 - ax, row + 0.5 - ay];
        const s = (px * vy - py * vx) / area;
        const t = (ux * py - uy * px) / area;
        if (s >= 0 && t >= 0 && s + t <= 1) this.#put(row * this.side + at, az + s * uz + t * vz, lit);
      }
  }

  #put(at: number, z: number, colour: Colour): void {
    if (z <= this.#depth[at]) return;
    this.#depth[at] = z;
    this.#colour.set(colour, at * 3);
  }

  /** RGBA in sRGB: each pixel the mean of its points, as much of it there as they are. */
  smaller(size: number): Uint8Array {
    const fine = this.side / size;
    const out = new Uint8Array(size * size * 4);
    for (let row = 0; row < size; row++)
      for (let at = 0; at < size; at++) {
        const sum = [0, 0, 0];
        let there = 0;
        for (let k = 0; k < fine * fine; k++) {
          const point = (row * fine + Math.floor(k / fine)) * this.side + at * fine + (k % fine);
          if (this.#depth[point] === -Infinity) continue;
          there++;
          for (let c = 0; c < 3; c++) sum[c] += this.#colour[point * 3 + c];
        }
        if (there === 0) continue;
        const pixel = sum.map((value) => Math.round(255 * srgbFromLinear(Math.min(1, value / there))));
        out.set([...pixel, Math.round((255 * there) / (fine * fine))], (row * size + at) * 4);
      }
    return out;
  }
}
