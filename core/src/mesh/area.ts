/** The area of a triangle. */

/**
 * Half of the length of the cross product of two sides (any handbook of geometry); in the unit of the points, squared.
 * @param positions x, y, z per point
 * @param a number of the first point, and of the others
 */
export function triangleArea(positions: ArrayLike<number>, a: number, b: number, c: number): number {
  const [ax, ay, az] = [positions[a * 3], positions[a * 3 + 1], positions[a * 3 + 2]];
  const [ux, uy, uz] = [positions[b * 3] - ax, positions[b * 3 + 1] - ay, positions[b * 3 + 2] - az];
  const [vx, vy, vz] = [positions[c * 3] - ax, positions[c * 3 + 1] - ay, positions[c * 3 + 2] - az];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}
