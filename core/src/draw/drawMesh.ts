/** Draws a mesh whose points are where they are in the picture. */
import type { PlacedMesh } from '../mesh/placed.ts';
import type { Canvas, Colour } from './canvas.ts';

/** What has no colour of its own: lines and points. */
const INK = [0.02, 0.02, 0.03] as const;

export type Drawn = Pick<PlacedMesh, 'positions' | 'edges' | 'indices' | 'groups'>;

/** Points that show a mesh: of its faces, or of what it has instead. */
export function pointsOf({ positions, edges }: Drawn): ArrayLike<number> {
  return positions.length > 0 ? positions : edges;
}

/** @param colourOf of a slot; without one it is not drawn. @param isThin what is behind is seen too */
export function drawMesh(
  canvas: Canvas,
  mesh: Drawn,
  points: Float64Array,
  colourOf: (slot: number) => Colour | undefined,
  isThin = false,
): void {
  const { indices, groups, positions } = mesh;
  if (positions.length === 0) {
    for (let i = 0; i + 5 < points.length; i += 6) canvas.line(points, i, i + 3, INK);
    return;
  }
  if (indices.length === 0)
    for (let i = 0; i < points.length; i += 3) canvas.dot(points[i], points[i + 1], points[i + 2], INK);
  for (const { slot, start, count } of groups) {
    const colour = colourOf(slot);
    if (!colour) continue;
    for (let i = start; i < start + count; i += 3)
      canvas.triangle(points, indices[i] * 3, indices[i + 1] * 3, indices[i + 2] * 3, colour, isThin);
  }
}
