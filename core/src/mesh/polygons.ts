/** Polygons into triangles: fans where they are convex, ears where they are not, by the plane that fits them best. */
import { ShapeUtils, Vector2 } from 'three';

/**
 * @param corner position of the i-th corner, metres or any unit
 * @param count corners of the polygon, at least 3
 * @returns corner numbers, three per triangle, in the winding of the polygon; empty for a degenerate one
 */
export function triangulate(corner: (i: number) => readonly [number, number, number], count: number): number[] {
  if (count === 3) return [0, 1, 2];
  const points = Array.from({ length: count }, (_, i) => corner(i));
  // Newell's normal: right for concave and slightly bent polygons.
  const normal = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [a, b] = [points[i], points[(i + 1) % count]];
    normal[0] += (a[1] - b[1]) * (a[2] + b[2]);
    normal[1] += (a[2] - b[2]) * (a[0] + b[0]);
    normal[2] += (a[0] - b[0]) * (a[1] + b[1]);
  }
  const size = normal.map(Math.abs);
  const drop = size[0] >= size[1] && size[0] >= size[2] ? 0 : size[1] >= size[2] ? 1 : 2;
  if (!(size[drop] > 0)) return fan(count);
  // The two axes that stay, in the order that keeps the winding.
  const [u, v] = normal[drop] > 0 ? [(drop + 1) % 3, (drop + 2) % 3] : [(drop + 2) % 3, (drop + 1) % 3];
  const flat = points.map((point) => new Vector2(point[u], point[v]));
  if (isConvex(flat)) return fan(count);
  const ears = ShapeUtils.triangulateShape(flat, []) as unknown as number[][];
  return ears.length === 0 ? fan(count) : ears.flat();
}

function fan(count: number): number[] {
  return Array.from({ length: count - 2 }, (_, i) => [0, i + 1, i + 2]).flat();
}

function isConvex(points: Vector2[]): boolean {
  return points.every((b, i) => {
    const a = points[(i + points.length - 1) % points.length];
    const c = points[(i + 1) % points.length];
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) >= 0;
  });
}
