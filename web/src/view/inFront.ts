/** What stands between the eye and some parts: found by looking at points all over their box. */
import { Ray, Vector3 } from 'three';
import { Rows } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Box } from '@noble-prism/core/scene/types';
import type { Picker } from './picking.ts';

/** Points along each side of the box that are looked at; fewer where a look goes through very many rows. */
const ALONG = 5;
const ALONG_MANY = 3;
const MANY = 200_000;

/** @param eye where it is looked from, metres. @param rows of the scene, whether they are drawn or not */
export function rowsInFront(picker: Picker, eye: Vector3, wanted: RowSet, { min, max }: Box, rows: number): Rows {
  const mask = new Uint8Array(rows);
  const along = rows > MANY ? ALONG_MANY : ALONG;
  // In the middle of each cell of the box: its corners are mostly empty.
  const at = (axis: number, i: number) => min[axis] + ((max[axis] - min[axis]) * (i + 0.5)) / along;
  for (let x = 0; x < along; x++)
    for (let y = 0; y < along; y++)
      for (let z = 0; z < along; z++) {
        const direction = new Vector3(at(0, x), at(1, y), at(2, z)).sub(eye).normalize();
        for (const row of picker.inFrontOf(wanted, new Ray(eye.clone(), direction))) mask[row] = 1;
      }
  return new Rows(mask);
}
