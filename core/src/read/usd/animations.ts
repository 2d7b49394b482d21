/** Movements of USD: operations of places that have values over time, evaluated at their times and often enough between them. */
import { extremes } from '../extremes.ts';
import { keyAfter, slerp, timesBetween, trackOfPlaces } from '../../scene/motion.ts';
import type { Track } from '../../scene/motion.ts';
import { numbersIn } from './layer.ts';
import type { Numbers } from './layer.ts';
import { tokensOf, valueOf } from './shapes.ts';
import type { ComposedPrim } from './stage.ts';
import { placeOf } from './transforms.ts';

/** How the times of a stage become seconds. */
export interface Clock {
  /** Time code that is zero seconds. */
  start: number;
  perSecond: number;
}

/** Operations of a prim that change over time. */
function movingOps(prim: ComposedPrim): string[] {
  const names = tokensOf(prim, 'xformOpOrder').map((name) => name.replace('!invert!', ''));
  return [...new Set(names)].filter((name) => (prim.property(name)?.over?.times.length ?? 0) > 1);
}

/** Earliest and latest time code of what moves of a prim; undefined where nothing does. */
export function spanOf(prim: ComposedPrim): [number, number] | undefined {
  const times = movingOps(prim).flatMap((name) => prim.property(name)?.over?.times ?? []);
  return extremes(times);
}

/** Keys of what moves of a prim, unit of the file; undefined where nothing does. */
export function trackOf(prim: ComposedPrim, { start, perSecond }: Clock): Track | undefined {
  const ops = movingOps(prim);
  if (ops.length === 0) return undefined;
  const keys = [...new Set(ops.flatMap((name) => prim.property(name)?.over?.times ?? []))].sort((a, b) => a - b);
  const seconds = (code: number) => (code - start) / perSecond;
  const codes = timesBetween(keys.map(seconds), (from, to) =>
    ops.reduce((sum, name) => sum + turned(prim, name, from * perSecond + start, to * perSecond + start), 0),
  ).map((time) => time * perSecond + start);
  const places = codes.map((code) => placeOf(prim, (name) => valueAt(prim, name, code)).matrix);
  return trackOfPlaces(codes.map(seconds), places);
}

/** Angle between two times, radians: of rotations, whose values are degrees. */
function turned(prim: ComposedPrim, name: string, from: number, to: number): number {
  if (!name.includes(':rotate')) return 0;
  const [a, b] = [valueAt(prim, name, from), valueAt(prim, name, to)];
  return ([...a].reduce((sum, value, i) => sum + Math.abs(b[i] - value), 0) * Math.PI) / 180;
}

/** Value of an operation at a time code: straight between its samples, held outside them. */
function valueAt(prim: ComposedPrim, name: string, code: number): Numbers {
  const over = prim.property(name)?.over;
  if (!over) return valueOf(prim, name);
  const next = keyAfter(over.times, code);
  const [a, b] = [Math.max(0, next - 1), Math.min(next, over.times.length - 1)];
  const [from, to] = [numbersIn(over.values[a]), numbersIn(over.values[b])];
  if (a === b || from.length !== to.length) return from;
  const share = (code - over.times[a]) / (over.times[b] - over.times[a]);
  // A rotation by a quaternion goes the way round, whatever the order of its numbers.
  if (name.includes(':orient')) return slerp([...from], [...to], share);
  return [...from].map((value, i) => value + (to[i] - value) * share);
}
