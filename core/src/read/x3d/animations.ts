/** Movements of X3D: time sensors that drive interpolators, which are routed to transforms and viewpoints (ISO/IEC 19775-1, 8 and 19). */
import { keyAfter, slerp, timesBetween, trackOfPlaces } from '../../scene/motion.ts';
import type { SceneBuilder } from '../builder.ts';
import { everything, numbersOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import type { Definitions } from './definitions.ts';
import { fullName, placeOf, quaternion } from './values.ts';

/** Fields that move something, and the interpolator that drives them. */
const FIELDS: Record<string, 'PositionInterpolator' | 'OrientationInterpolator'> = {
  translation: 'PositionInterpolator',
  scale: 'PositionInterpolator',
  center: 'PositionInterpolator',
  position: 'PositionInterpolator',
  rotation: 'OrientationInterpolator',
  orientation: 'OrientationInterpolator',
  scaleOrientation: 'OrientationInterpolator',
};

interface Drive {
  field: string;
  /** Shares of the cycle. */
  keys: number[];
  /** Positions, or unit quaternions. */
  values: number[][];
}

/** @param ids numbers of the builder by element: what is used twice moves in both places */
export function enterAnimations(
  root: XmlElement,
  definitions: Definitions,
  ids: ReadonlyMap<XmlElement, readonly number[]>,
  builder: SceneBuilder,
): void {
  const routes = [...everything(root)].filter(({ name }) => name === 'ROUTE').map(({ attributes }) => attributes);
  let other = 0;
  for (const sensor of everything(root)) {
    const { DEF } = sensor.attributes;
    if (sensor.name !== 'TimeSensor' || !DEF) continue;
    const driven = routes.filter(({ fromNode, fromField }) => fromNode === DEF && plain(fromField) === 'fraction');
    const drives = new Map<XmlElement, Drive[]>();
    for (const { toNode } of driven) {
      const interpolator = definitions.named(toNode);
      for (const { fromNode, toNode: target, toField } of routes) {
        if (fromNode !== toNode) continue;
        const element = definitions.named(target);
        const field = plain(toField);
        const drive = interpolator && driveOf(interpolator, field);
        if (!element || !drive || !ids.has(element)) other++;
        else drives.set(element, [...(drives.get(element) ?? []), drive]);
      }
    }
    if (driven.length === 0) continue;
    const animation = builder.animation(fullName(sensor) || DEF);
    const cycle = Number(sensor.attributes.cycleInterval ?? 1);
    for (const [element, list] of drives) {
      const keys = [...new Set(list.flatMap((drive) => drive.keys))].sort((a, b) => a - b);
      const shares = timesBetween(keys, (from, to) => list.reduce((sum, drive) => sum + turned(drive, from, to), 0));
      const places = shares.map((share) => placeOf(element, attributesAt(element, list, share)));
      const track = trackOfPlaces(
        shares.map((share) => share * (cycle > 0 ? cycle : 1)),
        places,
      );
      for (const id of ids.get(element) ?? []) builder.moves(id, animation, track);
    }
  }
  if (other > 0) builder.notRead.add(`Movements of anything but the place of a node are not carried: ${other} routes.`);
}

/** `set_translation` and `translation_changed` are the same field. */
const plain = (field = '') => field.replace(/^set_/, '').replace(/_changed$/, '');

function driveOf(interpolator: XmlElement, field: string): Drive | undefined {
  if (FIELDS[field] !== interpolator.name) return undefined;
  const keys = numbersOf(interpolator.attributes.key);
  const all = numbersOf(interpolator.attributes.keyValue);
  const isTurn = interpolator.name === 'OrientationInterpolator';
  const size = isTurn ? 4 : 3;
  if (keys.length === 0 || all.length !== keys.length * size) return undefined;
  const values = keys.map((_, i) => {
    const value = all.slice(i * size, (i + 1) * size);
    return isTurn ? quaternion(value.join(' ')) : value;
  });
  return { field, keys, values };
}

function valueAt({ keys, values }: Drive, share: number): number[] {
  const next = keyAfter(keys, share);
  if (next === 0 || next === keys.length) return values[Math.max(0, next - 1)];
  const t = (share - keys[next - 1]) / (keys[next] - keys[next - 1]);
  const [from, to] = [values[next - 1], values[next]];
  return from.length === 4 ? slerp(from, to, t) : from.map((value, i) => value + (to[i] - value) * t);
}

function turned(drive: Drive, from: number, to: number): number {
  const [a, b] = [valueAt(drive, from), valueAt(drive, to)];
  if (a.length < 4) return 0;
  return 2 * Math.acos(Math.min(1, Math.abs(a.reduce((sum, value, i) => sum + value * b[i], 0))));
}

function attributesAt(element: XmlElement, drives: readonly Drive[], share: number): Record<string, string> {
  const out = { ...element.attributes };
  for (const drive of drives) {
    const value = valueAt(drive, share);
    out[drive.field] = (value.length === 4 ? axisAngle(value) : value).join(' ');
  }
  return out;
}

function axisAngle([x, y, z, w]: number[]): number[] {
  const length = Math.hypot(x, y, z);
  return length > 0 ? [x / length, y / length, z / length, 2 * Math.atan2(length, w)] : [0, 0, 1, 0];
}
