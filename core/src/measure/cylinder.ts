/** The cylinder that fits points of a surface best, by least squares, with what is left over. */
import { cross, dot, normalize } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { fitCircle, lengthOf, minus, plus } from './circle.ts';

export interface FittedCylinder {
  /** A point of the axis, in the middle of the points. */
  point: Vector;
  /** Length one. */
  axis: Vector;
  radius: number;
  /** Root of the mean square of the distances from the cylinder, and the largest; in the unit of the points. */
  residual: number;
  worst: number;
}

const ROUNDS = 30;

/**
 * First the direction that is most across all normals (the smallest eigenvector of their covariance), then the distances from the
 * surface are made least by Gauss and Newton's method over axis and radius (Lukács, Marshall, Martin 1998 have the derivatives).
 * @param normals of the surface at each point, of any length: their weight
 * @returns undefined where the points are too few, or lie on no cylinder: on a plane, all over a sphere
 */
export function fitCylinder(points: readonly Vector[], normals: readonly Vector[]): FittedCylinder | undefined {
  if (points.length < 6) return undefined;
  const centroid = points.reduce<Vector>((sum, point) => plus(sum, point, 1 / points.length), [0, 0, 0]);
  const reach = Math.max(...points.map((point) => lengthOf(minus(point, centroid))));
  if (!(reach > 0)) return undefined;
  const { vectors, values } = eigenvectors(covariance(normals));
  // Of a plane all normals are one; of a sphere none is rarer than the others.
  const [small, middle] = values;
  if (!(middle > 1e-6) || small > 0.25 * middle) return undefined;
  let axis = vectors[0];
  const flat = points.map((point) => {
    const from = minus(point, centroid);
    return plus(from, axis, -dot(from, axis));
  });
  const start = fitCircle(around(flat, axis));
  if (!start) return undefined;
  let point = plus(centroid, start.centre);
  let { radius } = start;
  for (let round = 0; round < ROUNDS; round++) {
    const step = improvement(points, { point, axis, radius });
    if (!step) break;
    point = plus(point, step.move);
    axis = normalize(plus(axis, step.turn));
    radius += step.radius;
    if (lengthOf(step.move) + Math.abs(step.radius) + lengthOf(step.turn) * reach < 1e-13 * reach) break;
  }
  // The point of the axis nearest to the middle of the points.
  point = plus(point, axis, dot(minus(centroid, point), axis));
  const off = points.map((one) => distance(one, { point, axis, radius }));
  const square = off.reduce((sum, value) => sum + value * value, 0) / points.length;
  if (!Number.isFinite(square) || !(radius > 0)) return undefined;
  return { point, axis, radius, residual: Math.sqrt(square), worst: Math.max(...off.map(Math.abs)) };
}

type Guess = Pick<FittedCylinder, 'point' | 'axis' | 'radius'>;

function distance(p: Vector, { point, axis, radius }: Guess): number {
  const from = minus(p, point);
  return lengthOf(plus(from, axis, -dot(from, axis))) - radius;
}

/** One round: the normal equations of five unknowns, two across the axis for its place, two for its direction, the radius. */
function improvement(
  points: readonly Vector[],
  guess: Guess,
): { move: Vector; turn: Vector; radius: number } | undefined {
  const { point, axis, radius } = guess;
  const u = normalize(cross(axis, Math.abs(axis[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]));
  const v = cross(axis, u);
  const matrix = Array.from({ length: 5 }, () => new Float64Array(6));
  // Lengths are told in radii, so that all unknowns have one size.
  for (const p of points) {
    const from = minus(p, point);
    const along = dot(from, axis);
    const across = plus(from, axis, -along);
    const away = lengthOf(across);
    if (!(away > 0)) continue;
    const [a, b] = [dot(across, u) / away, dot(across, v) / away];
    const row = [-a, -b, (-a * along) / radius, (-b * along) / radius, -1];
    const off = (away - radius) / radius;
    for (let i = 0; i < 5; i++) {
      for (let j = 0; j < 5; j++) matrix[i][j] += row[i] * row[j];
      matrix[i][5] -= row[i] * off;
    }
  }
  const solved = solve(matrix);
  if (!solved) return undefined;
  const [du, dv, tu, tv, dr] = solved;
  return {
    move: plus(plus([0, 0, 0], u, du * radius), v, dv * radius),
    turn: plus(plus([0, 0, 0], u, tu), v, tv),
    radius: dr * radius,
  };
}

/** Points in the order of their angle about an axis: where a circle is fitted, they go around. */
function around(points: readonly Vector[], axis: Vector): Vector[] {
  const u = normalize(cross(axis, Math.abs(axis[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]));
  const v = cross(axis, u);
  const angle = (p: Vector) => Math.atan2(dot(p, v), dot(p, u));
  return [...points].sort((a, b) => angle(a) - angle(b));
}

function covariance(vectors: readonly Vector[]): number[][] {
  const out = [[0, 0, 0], [0, 0, 0], [0, 0, 0]]; // prettier-ignore
  let weight = 0;
  for (const vector of vectors) {
    const length = lengthOf(vector);
    if (!(length > 0)) continue;
    weight += length;
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) out[i][j] += (vector[i] * vector[j]) / length;
  }
  return out.map((row) => row.map((value) => value / (weight || 1)));
}

/** Of a symmetric matrix, by Jacobi's rotations; smallest value first. */
export function eigenvectors(symmetric: readonly (readonly number[])[]): { values: number[]; vectors: Vector[] } {
  const a = symmetric.map((row) => [...row]);
  const q = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]; // prettier-ignore
  for (let sweep = 0; sweep < 50; sweep++) {
    const off = a[0][1] ** 2 + a[0][2] ** 2 + a[1][2] ** 2;
    if (off < 1e-30) break;
    for (const [i, j] of [[0, 1], [0, 2], [1, 2]]) {
      if (a[i][j] === 0) continue;
      const theta = (a[j][j] - a[i][i]) / (2 * a[i][j]);
      const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
      const c = 1 / Math.sqrt(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) [a[k][i], a[k][j]] = [c * a[k][i] - s * a[k][j], s * a[k][i] + c * a[k][j]];
      for (let k = 0; k < 3; k++) [a[i][k], a[j][k]] = [c * a[i][k] - s * a[j][k], s * a[i][k] + c * a[j][k]];
      for (let k = 0; k < 3; k++) [q[k][i], q[k][j]] = [c * q[k][i] - s * q[k][j], s * q[k][i] + c * q[k][j]];
    }
  } // prettier-ignore
  const order = [0, 1, 2].sort((x, y) => a[x][x] - a[y][y]);
  return {
    values: order.map((i) => a[i][i]),
    vectors: order.map((i) => [q[0][i], q[1][i], q[2][i]] as const),
  };
}

/** Gauss' elimination with the largest pivot; undefined for a singular system. @param m rows with the right side at their end; written over */
function solve(m: Float64Array[]): number[] | undefined {
  const n = m.length;
  for (let column = 0; column < n; column++) {
    let best = column;
    for (let row = column + 1; row < n; row++) if (Math.abs(m[row][column]) > Math.abs(m[best][column])) best = row;
    if (!(Math.abs(m[best][column]) > 1e-14)) return undefined;
    [m[column], m[best]] = [m[best], m[column]];
    for (let row = 0; row < n; row++) {
      if (row === column) continue;
      const factor = m[row][column] / m[column][column];
      for (let k = column; k <= n; k++) m[row][k] -= factor * m[column][k];
    }
  }
  return m.map((row, i) => row[n] / row[i]);
}
