/** What is being measured: a mark at each point and a line between two, over everything else; and what the pointer would take next. */
import { BufferGeometry, Group, Line, LineBasicMaterial, Points, PointsMaterial, Vector3 } from 'three';
import type { Color } from 'three';
import type { Vector } from '@noble-prism/core/scene/matrix';

export class MeasureLine {
  readonly group = new Group();
  readonly #line = new Line(new BufferGeometry(), new LineBasicMaterial({ depthTest: false }));
  readonly #ends = new Points(
    new BufferGeometry(),
    new PointsMaterial({ size: 7, sizeAttenuation: false, depthTest: false }),
  );

  /** What the pointer would take. */
  readonly #mark = dots(11);
  /** Centres that can be taken. */
  readonly #offered = dots(5);

  constructor() {
    this.#line.renderOrder = this.#ends.renderOrder = 3;
    this.group.add(this.#line, this.#ends, this.#mark, this.#offered);
    this.show([]);
    this.mark(undefined, []);
  }

  get isMarked(): boolean {
    return this.#mark.visible;
  }

  /** @param point that would be taken, and other points that are offered; metres */
  mark(point: Vector | undefined, offered: readonly Vector[]): void {
    put(this.#mark, point ? [point] : []);
    put(this.#offered, offered);
  }

  /** @param points none, one or two, metres */
  show(points: readonly Vector[]): void {
    this.#line.geometry.dispose();
    this.#line.geometry = new BufferGeometry().setFromPoints(points.map((point) => new Vector3(...point)));
    this.#ends.geometry = this.#line.geometry;
    this.#line.visible = points.length === 2;
    this.#ends.visible = points.length > 0;
  }

  setColour(colour: Color): void {
    this.#line.material.color = colour;
    for (const { material } of [this.#ends, this.#mark, this.#offered]) material.color = colour;
  }
}

function dots(size: number): Points<BufferGeometry, PointsMaterial> {
  const material = new PointsMaterial({
    size,
    sizeAttenuation: false,
    depthTest: false,
    transparent: true,
    opacity: 0.7,
  });
  const made = new Points(new BufferGeometry(), material);
  made.renderOrder = 3;
  made.frustumCulled = false;
  return made;
}

function put(points: Points, at: readonly Vector[]): void {
  points.geometry.dispose();
  points.geometry = new BufferGeometry().setFromPoints(at.map((point) => new Vector3(...point)));
  points.visible = at.length > 0;
}
