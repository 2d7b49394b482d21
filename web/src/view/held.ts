/** Rows that are drawn by themselves, so that all of them are moved by one matrix: while they are dragged nothing else is done. */
import { Group } from 'three';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { NO_ROWS } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';

export class Held {
  readonly group = new Group();
  rows: RowSet = NO_ROWS;

  constructor() {
    this.group.matrixAutoUpdate = false;
  }

  /** @param matrix what is done to the world where they stand, metres. @param also what is drawn over them */
  shift(matrix: Matrix, also: readonly Group[]): void {
    for (const group of [this.group, ...also]) {
      group.matrixAutoUpdate = false;
      group.matrix.fromArray(matrix);
      group.matrixWorldNeedsUpdate = true;
    }
  }
}
