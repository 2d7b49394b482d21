/** Placements of a STEP file as matrices in metres: axis placements, transformations between them, and operators. */
import { cross, dot, invert, multiply, normalize } from '../../scene/matrix.ts';
import type { Vector } from '../../scene/matrix.ts';
import { Ref } from './values.ts';
import type { Part21 } from './part21.ts';
import type { Value } from './values.ts';

function vectorOf(file: Part21, value: Value): Vector | undefined {
  const index = value instanceof Ref ? file.indexOf(value.id) : -1;
  if (index < 0) return undefined;
  const numbers = file.args(index).find(Array.isArray) as Value[] | undefined;
  if (!numbers?.every((n) => typeof n === 'number' && Number.isFinite(n))) return undefined;
  const [x = 0, y = 0, z = 0] = numbers as number[];
  return [x, y, z];
}

/** Columns x, y, z, origin from a z direction and an approximate x (ISO 10303-42, build_axes); defaults where they are absent. */
function frame(origin: Vector, axis: Vector | undefined, ref: Vector | undefined, scale: number): number[] {
  const z = normalize(axis && Math.hypot(...axis) > 0 ? axis : [0, 0, 1]);
  let x: Vector = ref && Math.hypot(...ref) > 0 ? normalize(ref) : Math.abs(z[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
  const along = dot(x, z);
  x = [x[0] - along * z[0], x[1] - along * z[1], x[2] - along * z[2]];
  if (Math.hypot(...x) < 1e-9) {
    const other: Vector = Math.abs(z[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
    const part = dot(other, z);
    x = [other[0] - part * z[0], other[1] - part * z[1], other[2] - part * z[2]];
  }
  x = normalize(x);
  const y = cross(z, x);
  return [...x, 0, ...y, 0, ...z, 0, origin[0] * scale, origin[1] * scale, origin[2] * scale, 1];
}

/**
 * Matrix of an AXIS2_PLACEMENT_3D or CARTESIAN_TRANSFORMATION_OPERATOR_3D.
 * @param metres metres per unit of the context it stands in
 * @returns undefined where it is missing or malformed
 */
export function placementMatrix(file: Part21, id: number, metres: number): number[] | undefined {
  const index = file.indexOf(id);
  if (index < 0) return undefined;
  const args = file.args(index);
  if (file.is(index, 'AXIS2_PLACEMENT_3D')) {
    const origin = vectorOf(file, args[1]);
    return origin && frame(origin, vectorOf(file, args[2]), vectorOf(file, args[3]), metres);
  }
  if (file.is(index, 'CARTESIAN_TRANSFORMATION_OPERATOR_3D')) {
    const [axis1, axis2, point, factor, axis3] = file.typeOf(index).includes('+')
      ? operatorParts(file, index)
      : args.slice(-5);
    const origin = vectorOf(file, point);
    if (!origin) return undefined;
    const scale = typeof factor === 'number' && factor > 0 ? factor : 1;
    const matrix = frame(origin, vectorOf(file, axis3), vectorOf(file, axis1), metres);
    const y = vectorOf(file, axis2);
    // A second axis against the right-handed one means a mirror.
    const sign = y && dot(y, [matrix[4], matrix[5], matrix[6]]) < 0 ? -1 : 1;
    return matrix.map((v, i) => (i < 12 ? v * scale * (i >= 4 && i < 7 ? sign : 1) : v));
  }
  return undefined;
}

function operatorParts(file: Part21, index: number): Value[] {
  const [axis1, axis2, point, factor] = file.args(index, 'CARTESIAN_TRANSFORMATION_OPERATOR');
  return [axis1, axis2, point, factor, file.args(index, 'CARTESIAN_TRANSFORMATION_OPERATOR_3D')[0]];
}

/** Matrix that carries `from` onto `to`: to · from⁻¹. */
export function carrying(from: number[], to: number[]): number[] {
  return multiply(to, invert(from));
}
