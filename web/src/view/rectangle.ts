/** Parts within a rectangle of the picture: those that lie wholly inside, or also those that it touches. Seen through others too. */
import { Matrix4 } from 'three';
import type { Camera } from 'three';
import { GONE } from '@noble-prism/core/scene/nodes';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { geometryTransform } from '@noble-prism/core/scene/tree';
import type { Scene } from '@noble-prism/core/scene/types';
import type { GeometryStore } from './geometry.ts';

/** Pixels from the upper left corner of the canvas. */
export interface Rectangle {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export interface Picture {
  scene: Scene;
  /** Rows that are drawn. */
  rows: RowSet;
  worlds: Float64Array;
  geometry: Pick<GeometryStore, 'get'>;
  camera: Camera;
  width: number;
  height: number;
}

/** @param how wholly inside, or touched. Returns rows, in their order */
export function rowsWithin(picture: Picture, rectangle: Rectangle, how: 'inside' | 'touched'): number[] {
  const { scene, rows, worlds, camera, width, height } = picture;
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  camera.updateMatrixWorld();
  const toScreen = new Matrix4()
    .set(width / 2, 0, 0, width / 2, 0, -height / 2, 0, height / 2, 0, 0, 1, 0, 0, 0, 0, 1)
    .multiply(camera.projectionMatrix)
    .multiply(camera.matrixWorldInverse);
  const matrix = new Matrix4();
  const out: number[] = [];
  for (let row = 0; row < nodes.rows; row++) {
    if (mesh[row] === 0 || kind[row] === GONE || !rows.has(row)) continue;
    const geometry = picture.geometry.get(nodes.tables.words.get(mesh[row]));
    if (!geometry) continue;
    matrix.fromArray(geometryTransform(nodes.row(row), matrixAt(worlds, row * STRIDE))).premultiply(toScreen);
    const box = geometry.surface.boundingBox;
    const corners = box ? cornersOf([...box.min.toArray(), ...box.max.toArray()]) : undefined;
    const rough = corners && placed(corners, matrix);
    const overlap = rough ? overlapOf(rough, rectangle) : 'some';
    if (overlap === 'none') continue;
    if (overlap === 'all') {
      out.push(row);
      continue;
    }
    const flat = placed(geometry.positions.length > 0 ? geometry.positions : geometry.edges.getAttribute('position').array, matrix); // prettier-ignore
    const exact = overlapOf(flat, rectangle);
    if (
      exact === 'all' ||
      (how === 'touched' && exact === 'some' && isTouched(flat, geometry.surface.index?.array, rectangle))
    )
      out.push(row);
  }
  return out;
}

/** Points of the picture, x and y each; NaN for what lies behind the eye. */
function placed(points: ArrayLike<number>, { elements: e }: Matrix4): Float64Array {
  const out = new Float64Array((points.length / 3) * 2);
  for (let i = 0, at = 0; i < points.length; i += 3, at += 2) {
    const [x, y, z] = [points[i], points[i + 1], points[i + 2]];
    const w = e[3] * x + e[7] * y + e[11] * z + e[15];
    out[at] = w > 0 ? (e[0] * x + e[4] * y + e[8] * z + e[12]) / w : NaN;
    out[at + 1] = w > 0 ? (e[1] * x + e[5] * y + e[9] * z + e[13]) / w : NaN;
  }
  return out;
}

/** Whether all of some points are inside, or the box around them lies apart; where some are behind the eye that is not known. */
function overlapOf(flat: Float64Array, { left, top, right, bottom }: Rectangle): 'all' | 'some' | 'none' {
  let [low, high, up, down] = [Infinity, -Infinity, Infinity, -Infinity];
  let behind = 0;
  for (let i = 0; i < flat.length; i += 2) {
    if (Number.isNaN(flat[i])) {
      behind++;
      continue;
    }
    low = Math.min(low, flat[i]);
    high = Math.max(high, flat[i]);
    up = Math.min(up, flat[i + 1]);
    down = Math.max(down, flat[i + 1]);
  }
  if (behind * 2 === flat.length) return 'none';
  if (behind > 0) return 'some';
  if (high < left || low > right || down < top || up > bottom) return 'none';
  return low >= left && high <= right && up >= top && down <= bottom ? 'all' : 'some';
}

/** True where a triangle, or a point of what has none, overlaps the rectangle. */
function isTouched(flat: Float64Array, indices: ArrayLike<number> | undefined, rectangle: Rectangle): boolean {
  if (!indices) {
    for (let i = 0; i < flat.length; i += 2) if (isIn(flat[i], flat[i + 1], rectangle)) return true;
    return false;
  }
  for (let i = 0; i < indices.length; i += 3)
    if (overlaps(flat, [indices[i] * 2, indices[i + 1] * 2, indices[i + 2] * 2], rectangle)) return true;
  return false;
}

const isIn = (x: number, y: number, { left, top, right, bottom }: Rectangle): boolean =>
  x >= left && x <= right && y >= top && y <= bottom;

/** A triangle and a rectangle lie apart where some side of either has them on different sides (separating axes). */
function overlaps(flat: Float64Array, corners: readonly number[], { left, top, right, bottom }: Rectangle): boolean {
  const xs = corners.map((at) => flat[at]);
  const ys = corners.map((at) => flat[at + 1]);
  if (xs.some(Number.isNaN)) return corners.some((at) => isIn(flat[at], flat[at + 1], { left, top, right, bottom }));
  if (Math.max(...xs) < left || Math.min(...xs) > right || Math.max(...ys) < top || Math.min(...ys) > bottom)
    return false;
  for (let i = 0; i < 3; i++) {
    const [j, k] = [(i + 1) % 3, (i + 2) % 3];
    const side = (x: number, y: number) => (xs[j] - xs[i]) * (y - ys[i]) - (ys[j] - ys[i]) * (x - xs[i]);
    const own = side(xs[k], ys[k]);
    const others = [side(left, top), side(right, top), side(left, bottom), side(right, bottom)];
    if (own > 0 ? others.every((value) => value < 0) : own < 0 && others.every((value) => value > 0)) return false;
  }
  return true;
}

function cornersOf([ax, ay, az, bx, by, bz]: number[]): number[] {
  return [ax, ay, az, bx, ay, az, ax, by, az, bx, by, az, ax, ay, bz, bx, ay, bz, ax, by, bz, bx, by, bz];
}
