/** Values of X3D attributes: vectors, colours, rotations, and the place that a transform makes of them. */
import { linearFromSrgb } from '../../finish/colour.ts';
import { composed, IDENTITY, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { childrenNamed, numbersOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';

export function triple(text: string | undefined, standard: [number, number, number]): [number, number, number] {
  const [x, y, z] = numbersOf(text);
  return Number.isFinite(x + y + z) ? [x, y, z] : standard;
}

export function pair(text: string, standard: [number, number]): [number, number] {
  const [x, y] = numbersOf(text);
  return Number.isFinite(x + y) ? [x, y] : standard;
}

export function linear(colour: readonly number[]): [number, number, number] {
  return colour.map((value) => linearFromSrgb(Math.min(1, Math.max(0, value)))) as [number, number, number];
}

/** Axis and angle in radians to a unit quaternion. */
export function quaternion(text: string | undefined): [number, number, number, number] {
  const [x, y, z, angle] = numbersOf(text);
  const length = Math.hypot(x, y, z);
  if (!(length > 0) || !Number.isFinite(angle)) return [0, 0, 0, 1];
  const s = Math.sin(angle / 2) / length;
  return [x * s, y * s, z * s, Math.cos(angle / 2)];
}

/** The name in full that some programs give as data of an element, where its DEF may hold letters and digits only. */
export function fullName(element: XmlElement): string {
  const data = [element, ...childrenNamed(element, 'MetadataSet')].flatMap((one) => childrenNamed(one, 'MetadataString'));
  const value = data.find(({ attributes }) => attributes.name === 'name')?.attributes.value ?? '';
  return (/^\s*"((?:[^"\\]|\\.)*)"/.exec(value)?.[1] ?? '').replace(/\\(.)/g, '$1');
} // prettier-ignore

/** Turns -z to a direction: the shortest way. */
export function towards([x, y, z]: readonly number[]): [number, number, number, number] {
  const length = Math.hypot(x, y, z) || 1;
  const w = 1 - z / length;
  if (w < 1e-9) return [0, 1, 0, 0];
  const norm = Math.hypot(y / length, x / length, w);
  return [y / length / norm, -x / length / norm, 0, w / norm];
}

/** Translation, centre, rotation, orientation of the scale, scale: T C R SR S -SR -C (ISO/IEC 19775-1, 10.4.4). */
export function transformOf(a: Record<string, string>): Matrix {
  const [cx, cy, cz] = triple(a.center, [0, 0, 0]);
  const turn = quaternion(a.scaleOrientation);
  const [x, y, z, w] = turn;
  const one = [1, 1, 1];
  const none = [0, 0, 0, 1];
  return [
    composed(triple(a.translation, [0, 0, 0]), none, one),
    composed([cx, cy, cz], quaternion(a.rotation), one),
    composed([0, 0, 0], turn, triple(a.scale, [1, 1, 1])),
    composed([0, 0, 0], [-x, -y, -z, w], one),
    composed([-cx, -cy, -cz], none, one),
  ].reduce((product, matrix) => multiply(product, matrix));
}

/** Place of an element by these attributes; one that has none of its own stands where its parent is. */
export function placeOf({ name }: XmlElement, attributes: Record<string, string>): Matrix {
  if (name === 'Transform') return transformOf(attributes);
  if (name !== 'Viewpoint' && name !== 'OrthoViewpoint') return IDENTITY;
  return composed(triple(attributes.position, [0, 0, 10]), quaternion(attributes.orientation), [1, 1, 1]);
}
