/** Places of USD prims: their list of operations as one matrix. */
import { composed, IDENTITY, invert, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Numbers } from './layer.ts';
import { tokensOf, valueOf } from './shapes.ts';
import type { ComposedPrim } from './stage.ts';

const AXES = { X: [1, 0, 0], Y: [0, 1, 0], Z: [0, 0, 1] } as const;
type Axis = keyof typeof AXES;

export interface Place {
  /** Column-major, unit of the file. */
  matrix: Matrix;
  /** Does not follow the place of what it stands in. */
  resets: boolean;
}

/**
 * The first operation of the order is the outermost (UsdGeomXformable).
 * @param read the value of an operation, at some moment where it moves
 */
export function placeOf(prim: ComposedPrim, read: (name: string) => Numbers = (name) => valueOf(prim, name)): Place {
  let matrix: Matrix = IDENTITY;
  let resets = false;
  for (const written of tokensOf(prim, 'xformOpOrder')) {
    if (written === '!resetXformStack!') {
      matrix = IDENTITY;
      resets = true;
      continue;
    }
    const isInverse = written.startsWith('!invert!');
    const name = isInverse ? written.slice(8) : written;
    const made = operation(name.split(':')[1] ?? '', read(name));
    if (made && made.every(Number.isFinite)) matrix = multiply(matrix, isInverse ? invert(made) : made);
  }
  return { matrix, resets };
}

function operation(kind: string, v: Numbers): Matrix | undefined {
  const none = [0, 0, 0];
  const still = [0, 0, 0, 1];
  const one = [1, 1, 1];
  if (kind === 'transform') return v.length === 16 ? [...v] : undefined;
  if (kind === 'translate') return v.length === 3 ? composed([...v], still, one) : undefined;
  if (kind === 'scale') return v.length === 3 ? composed(none, still, [...v]) : undefined;
  // The real part stands first.
  if (kind === 'orient') return v.length === 4 ? composed(none, unit([v[1], v[2], v[3], v[0]]), one) : undefined;
  const axes = /^rotate([XYZ]{1,3})$/.exec(kind)?.[1];
  if (!axes) return undefined;
  if (axes.length === 1) return v.length === 1 ? turn(axes as Axis, v[0]) : undefined;
  if (v.length !== 3) return undefined;
  // `XYZ` turns about x first, so that x is innermost; the angles always stand in the order x, y, z.
  return [...axes].reduce<Matrix>(
    (matrix, axis) => multiply(turn(axis as Axis, v['XYZ'.indexOf(axis)]), matrix),
    IDENTITY,
  );
}

function turn(axis: Axis, degrees: number): Matrix {
  const half = (degrees * Math.PI) / 360;
  const [x, y, z] = AXES[axis];
  const s = Math.sin(half);
  return composed([0, 0, 0], [x * s, y * s, z * s, Math.cos(half)], [1, 1, 1]);
}

export function unit(q: readonly number[]): number[] {
  const length = Math.hypot(...q);
  return length > 0 ? q.map((value) => value / length) : [0, 0, 0, 1];
}
