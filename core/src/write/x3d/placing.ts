/**
 * A place as X3D has it: moved, turned, scaled along axes that may be turned themselves. Every place is one: what is skewed is scaled
 * along other axes (polar decomposition: any handbook of matrix computations).
 */
import { composed, determinant } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { decomposed } from '../../scene/motion.ts';

/** Largest part of a place that may differ, of its largest number. */
const EXACT = 1e-7;

export interface X3dPlace {
  translation?: string;
  rotation?: string;
  scale?: string;
  scaleOrientation?: string;
}

export function placeOf(m: Matrix): X3dPlace {
  const { translation, rotation, scale } = decomposed(m);
  const again = composed(translation, rotation, scale);
  const reach = Math.max(...m.slice(0, 12).map(Math.abs), 1e-300);
  const isPlain = m.slice(0, 12).every((value, i) => Math.abs(value - again[i]) <= reach * EXACT);
  if (isPlain) return placeText(translation, rotation, scale);
  const polar = polarOf(m);
  const isMirrored = determinant(m) < 0;
  const turned = decomposed(isMirrored ? polar.turn.map((value, i) => (i < 12 ? -value : value)) : polar.turn);
  const scales = polar.scales.map((value) => (isMirrored ? -value : value));
  return { ...placeText(translation, turned.rotation, scales), scaleOrientation: axisAngle(decomposed(polar.axes).rotation) };
} // prettier-ignore

function placeText(translation: readonly number[], rotation: readonly number[], scale: readonly number[]): X3dPlace {
  return {
    ...(translation.some((value) => value !== 0) ? { translation: numbers(translation) } : {}),
    ...(rotation.slice(0, 3).some((value) => value !== 0) ? { rotation: axisAngle(rotation) } : {}),
    ...(scale.some((value) => value !== 1) ? { scale: numbers(scale) } : {}),
  };
}

export const numbers = (values: readonly number[]) => values.map((value) => String(value + 0)).join(' ');

/** A turn by its axis and its angle in radians, from a unit quaternion. */
export function axisAngle([x, y, z, w]: readonly number[]): string {
  const length = Math.hypot(x, y, z);
  return length > 0 ? numbers([x / length, y / length, z / length, 2 * Math.atan2(length, w)]) : '0 0 1 0';
}

/** M = turn · axes · scales · axesᵀ, from the eigenvectors of MᵀM (Jacobi's method). */
function polarOf(m: Matrix): { turn: Matrix; axes: Matrix; scales: number[] } {
  const column = (k: number) => [m[k * 4], m[k * 4 + 1], m[k * 4 + 2]];
  const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const s = [0, 1, 2].map((i) => [0, 1, 2].map((k) => dot(column(i), column(k))));
  const v = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]; // prettier-ignore
  for (let sweep = 0; sweep < 30; sweep++)
    for (const [p, q] of [[0, 1], [0, 2], [1, 2]]) rotate(s, v, p, q); // prettier-ignore
  const scales = [0, 1, 2].map((i) => Math.sqrt(Math.max(0, s[i][i])));
  // Axes are a turn, not a mirror.
  const axis = (k: number) => [v[0][k], v[1][k], v[2][k]];
  const [a, b, c] = [axis(0), axis(1), axis(2)];
  const cross = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const third = dot(cross, c) < 0 ? c.map((value) => -value) : c;
  const axes = [...a, 0, ...b, 0, ...third, 0, 0, 0, 0, 1];
  // turn = M · axes · scales⁻¹ · axesᵀ
  const list = [a, b, third];
  const turn = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1];
  for (let row = 0; row < 3; row++)
    for (let k = 0; k < 3; k++)
      for (let i = 0; i < 3; i++) {
        const along = m[row] * list[i][0] + m[4 + row] * list[i][1] + m[8 + row] * list[i][2];
        turn[k * 4 + row] += (along / (scales[i] || 1)) * list[i][k];
      }
  return { turn, axes, scales };
}

/** Turns two axes so that what they have in common becomes nothing. */
function rotate(s: number[][], v: number[][], p: number, q: number): void {
  if (s[p][q] === 0) return;
  const theta = (s[q][q] - s[p][p]) / (2 * s[p][q]);
  const t = (Math.sign(theta) || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
  const cos = 1 / Math.sqrt(t * t + 1);
  const sin = t * cos;
  for (let k = 0; k < 3; k++) [s[k][p], s[k][q]] = [cos * s[k][p] - sin * s[k][q], sin * s[k][p] + cos * s[k][q]];
  for (let k = 0; k < 3; k++) [s[p][k], s[q][k]] = [cos * s[p][k] - sin * s[q][k], sin * s[p][k] + cos * s[q][k]];
  for (let k = 0; k < 3; k++) [v[k][p], v[k][q]] = [cos * v[k][p] - sin * v[k][q], sin * v[k][p] + cos * v[k][q]];
}
