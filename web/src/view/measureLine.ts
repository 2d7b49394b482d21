/** What is being measured: a mark at each point and a line between two, over everything else. */
import { BufferGeometry, Group, Line, LineBasicMaterial, Points, PointsMaterial, Vector3 } from 'three';
import type { Color } from 'three';

export class MeasureLine {
  readonly group = new Group();
  readonly #line = new Line(new BufferGeometry(), new LineBasicMaterial({ depthTest: false }));
  readonly #ends = new Points(
    new BufferGeometry(),
    new PointsMaterial({ size: 7, sizeAttenuation: false, depthTest: false }),
  );

  constructor() {
    this.#line.renderOrder = this.#ends.renderOrder = 3;
    this.group.add(this.#line, this.#ends);
    this.show([]);
  }

  /** @param points none, one or two, metres */
  show(points: readonly (readonly [number, number, number])[]): void {
    this.#line.geometry.dispose();
    this.#line.geometry = new BufferGeometry().setFromPoints(points.map((point) => new Vector3(...point)));
    this.#ends.geometry = this.#line.geometry;
    this.#line.visible = points.length === 2;
    this.#ends.visible = points.length > 0;
  }

  setColour(colour: Color): void {
    this.#line.material.color = colour;
    this.#ends.material.color = colour;
  }
}
