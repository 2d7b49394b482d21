/** Rows that are drawn by themselves, so that all of them are moved by one matrix: while they are dragged nothing else is done. */
import { Group, Vector3 } from 'three';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { NO_ROWS } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { CameraWork } from './cameraWork.ts';

export class Held {
  readonly group = new Group();
  rows: RowSet = NO_ROWS;

  constructor() {
    this.group.matrixAutoUpdate = false;
  }

  /** @param way from where they stand, world, metres. @param also what is drawn over them */
  shift([x, y, z]: Vector, also: readonly Group[]): void {
    for (const group of [this.group, ...also]) {
      group.matrixAutoUpdate = false;
      group.matrix.makeTranslation(x, y, z);
      group.matrixWorldNeedsUpdate = true;
    }
  }

  /** Where a ray meets the plane through a point that lies across the view: as near as the point, under the pointer. */
  static across(eye: CameraWork, x: number, y: number, through: Vector): Vector {
    const { origin, direction } = eye.ray(x, y);
    const ahead = eye.camera.getWorldDirection(new Vector3());
    const away = new Vector3(...through).sub(origin).dot(ahead) / direction.dot(ahead);
    const point = origin.clone().addScaledVector(direction, away);
    return [point.x, point.y, point.z];
  }
}
