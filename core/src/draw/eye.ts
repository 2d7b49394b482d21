/** Where pictures that are drawn are looked at from: from above on one side, without perspective. */
import type { Matrix } from '../scene/matrix.ts';

/** Turned about the upright axis (y), then tipped, radians. */
const [TURN, TIP] = [-0.65, 0.42];
const [SIN_TURN, COS_TURN, SIN_TIP, COS_TIP] = [Math.sin(TURN), Math.cos(TURN), Math.sin(TIP), Math.cos(TIP)];
/** Share of the picture that stays free on each side. */
const MARGIN = 0.06;

/** Points as the eye sees them: x to the right, y down, z to the eye, in their own unit. @param place that they stand at */
export function seen(positions: ArrayLike<number>, place?: Matrix): Float64Array {
  const out = new Float64Array(positions.length);
  for (let i = 0; i + 2 < out.length; i += 3) {
    let [x, y, z] = [positions[i], positions[i + 1], positions[i + 2]];
    if (place) [x, y, z] = [0, 1, 2].map((k) => place[k] * x + place[k + 4] * y + place[k + 8] * z + place[k + 12]);
    const across = COS_TURN * x + SIN_TURN * z;
    const deep = -SIN_TURN * x + COS_TURN * z;
    out[i] = across;
    out[i + 1] = -(COS_TIP * y - SIN_TIP * deep);
    out[i + 2] = SIN_TIP * y + COS_TIP * deep;
  }
  return out;
}

/** Fits what is seen into a picture. */
export class Frame {
  readonly #min = [Infinity, Infinity];
  readonly #max = [-Infinity, -Infinity];

  constructor(
    readonly width: number,
    readonly height: number,
  ) {}

  include(points: Float64Array): void {
    for (let i = 0; i < points.length; i += 3)
      for (let k = 0; k < 2; k++) {
        this.#min[k] = Math.min(this.#min[k], points[i + k]);
        this.#max[k] = Math.max(this.#max[k], points[i + k]);
      }
  }

  get isEmpty(): boolean {
    return this.#min[0] > this.#max[0];
  }

  /** Points of the picture for each unit. */
  get scale(): number {
    const [across, down] = [0, 1].map((k) => this.#max[k] - this.#min[k]);
    const room = 1 - 2 * MARGIN;
    const scale = Math.min((this.width * room) / across, (this.height * room) / down);
    return Number.isFinite(scale) ? scale : 1;
  }

  /** Puts points where they are in the picture. */
  fit(points: Float64Array): Float64Array {
    const { scale } = this;
    const sides = [this.width, this.height];
    for (let i = 0; i < points.length; i += 3) {
      for (let k = 0; k < 2; k++)
        points[i + k] = sides[k] / 2 + (points[i + k] - (this.#min[k] + this.#max[k]) / 2) * scale;
      points[i + 2] *= scale;
    }
    return points;
  }
}
