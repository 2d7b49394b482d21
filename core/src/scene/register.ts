/**
 * Brings points of one frame onto points of another, without stretching: one by a move, two by a move and a turn about the vertical, three
 * or more by a move and any turn. Of more than are needed the sum of the squares is least: the closed form of Horn (1987), with unit quaternions.
 */
import { multiply, transformPoint, translation } from './matrix.ts';
import type { Matrix, Vector } from './matrix.ts';
import { rotationAbout } from './rotation.ts';

export interface Pair {
  from: Vector;
  to: Vector;
}

export interface Registered {
  /** Takes `from` to `to`, as near as can be. */
  matrix: Matrix;
  /** How far each point stays from where it should be, metres. */
  residuals: number[];
}

/** Points nearer than this lie on one spot, metres. */
const ONE_SPOT = 1e-9;
/** Points that stand off a line by less than this share of their distance lie on it. */
const ONE_LINE = 1e-6;

/** @returns why it cannot be done, where it cannot */
export function register(pairs: readonly Pair[]): Registered | string {
  const [a, b] = [pairs.map(({ from }) => from), pairs.map(({ to }) => to)];
  if (pairs.length === 0) return 'There is no point to be brought onto another.';
  for (const [points, of] of [[a, 'moved'], [b, 'fixed']] as const) {
    if (pairs.length > 1 && spread(points) < ONE_SPOT) return `The ${of} points lie on one spot.`;
    if (pairs.length === 2 && Math.hypot(points[1][0] - points[0][0], points[1][2] - points[0][2]) < ONE_SPOT)
      return `The ${of} points stand one above the other: no turn about the vertical brings them together.`;
    if (pairs.length > 2 && isLine(points)) return `The ${of} points lie on one line: how it is tilted about that, nobody knows.`;
  } // prettier-ignore
  const [ca, cb] = [centroidOf(a), centroidOf(b)];
  const turn = pairs.length === 1 ? undefined : pairs.length === 2 ? aboutVertical(a, b) : turnOf(a, b, ca, cb);
  const matrix = turn
    ? multiply(translation(cb), multiply(turn, translation([-ca[0], -ca[1], -ca[2]])))
    : translation([cb[0] - ca[0], cb[1] - ca[1], cb[2] - ca[2]]);
  const residuals = pairs.map(({ from, to }) => {
    const there = transformPoint(matrix, from);
    return Math.hypot(there[0] - to[0], there[1] - to[1], there[2] - to[2]);
  });
  return { matrix, residuals };
}

function centroidOf(points: readonly Vector[]): [number, number, number] {
  return [0, 1, 2].map((axis) => points.reduce((sum, point) => sum + point[axis], 0) / points.length) as [number, number, number]; // prettier-ignore
}

function spread(points: readonly Vector[]): number {
  const [first] = points;
  return Math.max(...points.map((point) => Math.hypot(point[0] - first[0], point[1] - first[1], point[2] - first[2])));
}

function isLine(points: readonly Vector[]): boolean {
  const [first] = points;
  const reach = spread(points);
  const far = points.find((p) => Math.hypot(p[0] - first[0], p[1] - first[1], p[2] - first[2]) === reach) as Vector;
  const along = [0, 1, 2].map((k) => (far[k] - first[k]) / reach);
  return points.every((point) => {
    const from = [0, 1, 2].map((k) => point[k] - first[k]);
    const t = from[0] * along[0] + from[1] * along[1] + from[2] * along[2];
    return Math.hypot(...from.map((value, k) => value - t * along[k])) < ONE_LINE * reach;
  });
}

/** The turn about y that takes the way between two points to that between two others, seen from above. */
function aboutVertical([a0, a1]: readonly Vector[], [b0, b1]: readonly Vector[]): Matrix {
  const angle = (from: Vector, to: Vector) => Math.atan2(-(to[2] - from[2]), to[0] - from[0]);
  return rotationAbout([0, 1, 0], angle(b0, b1) - angle(a0, a1));
}

/** The unit quaternion that is the eigenvector of the largest eigenvalue of Horn's matrix. */
function turnOf(a: readonly Vector[], b: readonly Vector[], ca: Vector, cb: Vector): Matrix {
  const s = [0, 1, 2].map((i) => [0, 1, 2].map((j) => a.reduce((sum, p, n) => sum + (p[i] - ca[i]) * (b[n][j] - cb[j]), 0)));
  const [[xx, xy, xz], [yx, yy, yz], [zx, zy, zz]] = s;
  const n = [
    [xx + yy + zz, yz - zy, zx - xz, xy - yx],
    [yz - zy, xx - yy - zz, xy + yx, zx + xz],
    [zx - xz, xy + yx, yy - xx - zz, yz + zy],
    [xy - yx, zx + xz, yz + zy, zz - xx - yy],
  ];
  const [w, x, y, z] = largest(n);
  return [
    1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w), 0,
    2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w), 0,
    2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y), 0,
    0, 0, 0, 1,
  ];
} // prettier-ignore

/** Eigenvector of the largest eigenvalue of a symmetric matrix of four, by Jacobi's rotations. */
function largest(symmetric: readonly (readonly number[])[]): number[] {
  const a = symmetric.map((row) => [...row]);
  const q: number[][] = a.map((_, i) => a.map((__, j) => (i === j ? 1 : 0)));
  const size = Math.max(...a.flat().map(Math.abs)) || 1;
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0;
    for (let i = 0; i < 4; i++)
      for (let j = i + 1; j < 4; j++) {
        off = Math.max(off, Math.abs(a[i][j]));
        if (Math.abs(a[i][j]) < 1e-300) continue;
        const theta = (a[j][j] - a[i][i]) / (2 * a[i][j]);
        const t = (theta < 0 ? -1 : 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        for (let k = 0; k < 4; k++) [a[k][i], a[k][j]] = [c * a[k][i] - s * a[k][j], s * a[k][i] + c * a[k][j]];
        for (let k = 0; k < 4; k++) [a[i][k], a[j][k]] = [c * a[i][k] - s * a[j][k], s * a[i][k] + c * a[j][k]];
        for (let k = 0; k < 4; k++) [q[k][i], q[k][j]] = [c * q[k][i] - s * q[k][j], s * q[k][i] + c * q[k][j]];
      }
    if (off < 1e-16 * size) break;
  }
  const best = [0, 1, 2, 3].reduce((most, i) => (a[i][i] > a[most][most] ? i : most), 0);
  return q.map((row) => row[best]);
}
