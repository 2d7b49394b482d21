/** Triangles, lines and points drawn without a graphics card: what is nearest to the eye at each point, under light from the upper left. */
import { srgbFromLinear } from '../finish/colour.ts';

/** Points drawn for each pixel and direction, so that edges are smooth. */
const FINE = 2;
/** To the light, as seen in the picture, length one; and what every face has of it. */
const LIGHT = [-0.45, 0.65, 0.61] as const;
const AMBIENT = 0.35;

/** Linear red, green and blue, 0 to 1. */
export type Colour = readonly [number, number, number];

export class Canvas {
  /** In points, of which a pixel has several. */
  readonly width: number;
  readonly height: number;
  readonly #depth: Float32Array;
  readonly #colour: Float32Array;

  /** @param columns of pixels @param rows of pixels */
  constructor(
    readonly columns: number,
    readonly rows: number,
  ) {
    this.width = columns * FINE;
    this.height = rows * FINE;
    this.#depth = new Float32Array(this.width * this.height).fill(-Infinity);
    this.#colour = new Float32Array(this.width * this.height * 3);
  }

  dot(x: number, y: number, z: number, colour: Colour): void {
    const [at, row] = [Math.floor(x), Math.floor(y)];
    if (at >= 0 && row >= 0 && at < this.width && row < this.height) this.#put(row * this.width + at, z, colour);
  }

  /** @param a where in the points its ends begin */
  line(points: Float64Array, a: number, b: number, colour: Colour): void {
    const [dx, dy, dz] = [points[b] - points[a], points[b + 1] - points[a + 1], points[b + 2] - points[a + 2]];
    const steps = Math.min(this.width + this.height, Math.max(1, Math.ceil(Math.max(Math.abs(dx), Math.abs(dy)))));
    for (let i = 0; i <= steps; i++) {
      const t = i / steps;
      this.dot(points[a] + t * dx, points[a + 1] + t * dy, points[a + 2] + t * dz, colour);
    }
  }

  /**
   * Both sides are drawn: a face that is seen from behind is lit as if it faced the eye.
   * @param isThin every second point of it is left out, so that what is behind is seen too
   */
  triangle(points: Float64Array, a: number, b: number, c: number, colour: Colour, isThin = false): void {
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
    const low = Math.min(this.height - 1, Math.ceil(Math.max(ay, ay + uy, ay + vy)));
    const left = Math.max(0, Math.floor(Math.min(ax, ax + ux, ax + vx)));
    const right = Math.min(this.width - 1, Math.ceil(Math.max(ax, ax + ux, ax + vx)));
    for (let row = top; row <= low; row++)
      for (let at = left; at <= right; at++) {
        if (isThin && ((row + at) & 1) === 1) continue;
        const [px, py] = [at + 0.5 - ax, row + 0.5 - ay];
        const s = (px * vy - py * vx) / area;
        const t = (ux * py - uy * px) / area;
        if (s >= 0 && t >= 0 && s + t <= 1) this.#put(row * this.width + at, az + s * uz + t * vz, lit);
      }
  }

  #put(at: number, z: number, colour: Colour): void {
    if (z <= this.#depth[at]) return;
    this.#depth[at] = z;
    this.#colour.set(colour, at * 3);
  }

  /** RGBA in sRGB: each pixel the mean of its points, as much of it there as they are. */
  pixels(): Uint8Array {
    const { columns, rows, width } = this;
    const out = new Uint8Array(columns * rows * 4);
    for (let row = 0; row < rows; row++)
      for (let at = 0; at < columns; at++) {
        const sum = [0, 0, 0];
        let there = 0;
        for (let k = 0; k < FINE * FINE; k++) {
          const point = (row * FINE + Math.floor(k / FINE)) * width + at * FINE + (k % FINE);
          if (this.#depth[point] === -Infinity) continue;
          there++;
          for (let c = 0; c < 3; c++) sum[c] += this.#colour[point * 3 + c];
        }
        if (there === 0) continue;
        const pixel = sum.map((value) => Math.round(255 * srgbFromLinear(Math.min(1, value / there))));
        out.set([...pixel, Math.round((255 * there) / (FINE * FINE))], (row * columns + at) * 4);
      }
    return out;
  }
}
