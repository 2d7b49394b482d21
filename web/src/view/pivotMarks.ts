/** Where the pivots of the selected rows lie and how they are turned: three short axes each, over everything else, of one size on the screen. */
import { BufferAttribute, BufferGeometry, Group, LineBasicMaterial, LineSegments, Matrix4, Vector3 } from 'three';
import type { Color } from 'three';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import { rotationOf } from '@noble-prism/core/scene/rotation';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import type { CameraWork } from './cameraWork.ts';

/** More would cover what they belong to. */
const MOST = 40;
/** Length of an axis on the screen, pixels; x is the longest, so that they are told apart without colours too. */
const PIXELS = 26;
const LENGTHS = [1, 0.8, 0.6];

export class PivotMarks {
  readonly group = new Group();
  readonly #geometry = new BufferGeometry();
  readonly #material = new LineBasicMaterial({ depthTest: false, toneMapped: false });

  constructor() {
    const ends = LENGTHS.flatMap((length, axis) => [0, 0, 0, ...[0, 1, 2].map((k) => (k === axis ? length : 0))]);
    this.#geometry.setAttribute('position', new BufferAttribute(Float32Array.from(ends), 3));
  }

  setColour(colour: Color): void {
    this.#material.color = colour;
  }

  show(scene: Scene, rows: RowSet, worlds: Float64Array): void {
    this.group.clear();
    if (rows.size > MOST) return;
    for (const row of rows) {
      if (!scene.nodes.has(row)) continue;
      const world = matrixAt(worlds, row * STRIDE);
      const mark = new LineSegments(this.#geometry, this.#material);
      mark.position.set(world[12], world[13], world[14]);
      mark.quaternion.setFromRotationMatrix(new Matrix4().fromArray(rotationOf(world)));
      mark.renderOrder = 4;
      mark.frustumCulled = false;
      this.group.add(mark);
    }
  }

  /** Makes all of one size as they are seen now. */
  fit(eye: CameraWork): void {
    for (const mark of this.group.children)
      mark.scale.setScalar(Math.max(1e-9, PIXELS * eye.metresPerPixel(new Vector3().copy(mark.position))));
  }
}
