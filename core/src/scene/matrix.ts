/** 4x4 matrices in doubles, column-major as in glTF; points are columns. */

/** Sixteen numbers, column-major. */
export type Matrix = readonly number[];
export type Vector = readonly [number, number, number];

export const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** a · b: first b, then a. */
export function multiply(a: Matrix, b: Matrix): number[] {
  const out = new Array<number>(16);
  for (let c = 0; c < 4; c++) {
    for (let r = 0; r < 4; r++) {
      out[c * 4 + r] = a[r] * b[c * 4] + a[4 + r] * b[c * 4 + 1] + a[8 + r] * b[c * 4 + 2] + a[12 + r] * b[c * 4 + 3];
    }
  }
  return out;
}

/** Inverse of an affine matrix (last row 0 0 0 1). Returns the identity for a singular one. */
export function invert(m: Matrix): number[] {
  const [a, b, c] = [m[0], m[4], m[8]];
  const [d, e, f] = [m[1], m[5], m[9]];
  const [g, h, i] = [m[2], m[6], m[10]];
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (det === 0) return [...IDENTITY];
  const n = [
    (e * i - f * h) / det, (f * g - d * i) / det, (d * h - e * g) / det, 0,
    (c * h - b * i) / det, (a * i - c * g) / det, (b * g - a * h) / det, 0,
    (b * f - c * e) / det, (c * d - a * f) / det, (a * e - b * d) / det, 0,
  ]; // prettier-ignore
  const [x, y, z] = [m[12], m[13], m[14]];
  n.push(-(n[0] * x + n[4] * y + n[8] * z), -(n[1] * x + n[5] * y + n[9] * z), -(n[2] * x + n[6] * y + n[10] * z), 1);
  return n.map((value) => value + 0);
}

export function translation([x, y, z]: Vector): number[] {
  return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];
}

export function transformPoint(m: Matrix, [x, y, z]: Vector): [number, number, number] {
  return [
    m[0] * x + m[4] * y + m[8] * z + m[12],
    m[1] * x + m[5] * y + m[9] * z + m[13],
    m[2] * x + m[6] * y + m[10] * z + m[14],
  ];
}

/** Volume factor of the linear part; negative for a mirror. */
export function determinant(m: Matrix): number {
  return m[0] * (m[5] * m[10] - m[9] * m[6]) - m[4] * (m[1] * m[10] - m[9] * m[2]) + m[8] * (m[1] * m[6] - m[5] * m[2]);
}

export function isIdentity(m: Matrix, tolerance = 1e-12): boolean {
  return m.every((value, i) => Math.abs(value - IDENTITY[i]) <= tolerance);
}

/** True where lengths or volumes vanish: such a place has no inverse. */
export function isSingular(m: Matrix): boolean {
  const size = Math.max(...[0, 1, 2, 4, 5, 6, 8, 9, 10].map((i) => Math.abs(m[i])));
  return !(Math.abs(determinant(m)) > 1e-15 * size ** 3);
}

export function cross(a: Vector, b: Vector): [number, number, number] {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

export function dot(a: Vector, b: Vector): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

export function normalize(v: Vector): [number, number, number] {
  const length = Math.hypot(v[0], v[1], v[2]) || 1;
  return [v[0] / length, v[1] / length, v[2] / length];
}

/** Column-major matrix of a move, a unit quaternion (x, y, z, w) and a scale, applied scale first. */
export function composed(move: readonly number[], turn: readonly number[], scale: readonly number[]): number[] {
  const [x, y, z, w] = turn;
  const [sx, sy, sz] = scale;
  return [
    (1 - 2 * (y * y + z * z)) * sx, 2 * (x * y + z * w) * sx, 2 * (x * z - y * w) * sx, 0,
    2 * (x * y - z * w) * sy, (1 - 2 * (x * x + z * z)) * sy, 2 * (y * z + x * w) * sy, 0,
    2 * (x * z + y * w) * sz, 2 * (y * z - x * w) * sz, (1 - 2 * (x * x + y * y)) * sz, 0,
    move[0], move[1], move[2], 1,
  ]; // prettier-ignore
}
