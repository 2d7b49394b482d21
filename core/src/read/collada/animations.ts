/**
 * Movements of COLLADA: channels that change the transforms of nodes, evaluated at their keys and often enough between them. Clips
 * become animations of their own; without clips all channels are one.
 */
import { extremes } from '../extremes.ts';
import { keyAfter, timesBetween, trackOfPlaces } from '../../scene/motion.ts';
import type { SceneBuilder } from '../builder.ts';
import { child, childrenNamed, everything, decimalsOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import { transformOf } from './placing.ts';

/** One value over time, as the file gives it. */
interface Sampler {
  times: number[];
  /** Numbers for each key. */
  size: number;
  values: number[];
  kinds: string[];
  /** Control points, two numbers (time, value) for each number of a key; absent where the file gives none. */
  into?: number[];
  out?: number[];
}

interface ColladaChannel {
  sampler: Sampler;
  /** The transform that changes, and which of its numbers; all of them where absent. */
  element: XmlElement;
  member?: number;
}

const MEMBERS: Record<string, number> = { X: 0, Y: 1, Z: 2, ANGLE: 3 };

/** @param ids numbers of the builder for each node of the file: one that is placed twice moves in both places */
export function enterAnimations(
  root: XmlElement,
  refer: (url: string | undefined) => XmlElement | undefined,
  ids: ReadonlyMap<XmlElement, readonly number[]>,
  builder: SceneBuilder,
): void {
  const library = new Animations(refer, ids, builder);
  const clips = childrenNamed(root, 'library_animation_clips').flatMap((one) => childrenNamed(one, 'animation_clip'));
  for (const clip of clips) {
    const parts = childrenNamed(clip, 'instance_animation').flatMap(({ attributes }) => refer(attributes.url) ?? []);
    const { name = '', id = '', start = '0', end } = clip.attributes;
    library.enter(name || id, parts, Number(start) || 0, end === undefined ? Infinity : Number(end));
  }
  if (clips.length > 0) return;
  const all = childrenNamed(root, 'library_animations').flatMap((one) => childrenNamed(one, 'animation'));
  const name = all.length === 1 ? (all[0].attributes.name ?? all[0].attributes.id) : '';
  if (all.length > 0) library.enter(name ?? '', all, 0, Infinity);
}

class Animations {
  constructor(
    readonly refer: (url: string | undefined) => XmlElement | undefined,
    readonly ids: ReadonlyMap<XmlElement, readonly number[]>,
    readonly builder: SceneBuilder,
  ) {}

  /** Enters one animation: its channels between two times, beginning at zero. */
  enter(name: string, parts: readonly XmlElement[], start: number, end: number): void {
    const number = this.builder.animation(name);
    const channels = new Map<XmlElement, ColladaChannel[]>();
    let other = 0;
    for (const part of parts)
      for (const element of everything(part)) {
        if (element.name !== 'channel') continue;
        const found = this.#channel(element);
        if (!found) other++;
        else channels.set(found.node, [...(channels.get(found.node) ?? []), found.channel]);
      }
    if (other > 0)
      this.builder.notRead.add(`Movements of anything but the place of a node are not carried: ${other} channels.`);
    for (const [node, list] of channels) {
      const times = momentsOf(list, start, end);
      const places = times.map((time) => placeOf(node, list, time));
      const track = trackOfPlaces(
        times.map((time) => time - Math.max(0, start)),
        places,
      );
      for (const id of this.ids.get(node) ?? []) this.builder.moves(id, number, track);
    }
  }

  #channel(element: XmlElement): { node: XmlElement; channel: ColladaChannel } | undefined {
    const [id, path = ''] = (element.attributes.target ?? '').split('/');
    const [, sid, member] = path.match(/^([^.(]+)(?:\.(\w+))?$/) ?? [];
    const node = this.refer(`#${id}`);
    const target = node?.children.find(({ attributes }) => attributes.sid === sid);
    const sampler = this.#sampler(this.refer(element.attributes.source));
    if (!node || !target || !sampler || !this.ids.has(node)) return undefined;
    if (member !== undefined && !(member in MEMBERS)) return undefined;
    return { node, channel: { sampler, element: target, ...(member ? { member: MEMBERS[member] } : {}) } };
  }

  #sampler(element: XmlElement | undefined): Sampler | undefined {
    const source = (semantic: string) => {
      const input = childrenNamed(element, 'input').find(({ attributes }) => attributes.semantic === semantic);
      return this.refer(input?.attributes.source);
    };
    const numbers = (semantic: string) => decimalsOf(child(source(semantic), 'float_array')?.text);
    const times = numbers('INPUT');
    const values = numbers('OUTPUT');
    const size = values.length / times.length;
    if (times.length === 0 || !Number.isInteger(size) || size < 1) return undefined;
    const kinds = (child(source('INTERPOLATION'), 'Name_array')?.text ?? '').trim().split(/\s+/);
    const [into, out] = [numbers('IN_TANGENT'), numbers('OUT_TANGENT')];
    const hasPoints = into.length === values.length * 2 && out.length === values.length * 2;
    return { times, values, size, kinds, ...(hasPoints ? { into, out } : {}) };
  }
}

/** How long a jump takes, seconds. */
const JUMP = 0.001;

/** Times at which the place of a node is asked for: at all keys, and in between where it turns or bends. */
function momentsOf(channels: readonly ColladaChannel[], start: number, end: number): number[] {
  const all = channels.flatMap(({ sampler }) => sampler.times);
  const [least, most] = extremes(all) ?? [start, end];
  const [first, last] = [Math.max(start, least), Math.min(end, most)];
  // What jumps stays where it is until just before.
  const before = channels.flatMap(({ sampler: { times, kinds } }) =>
    times.slice(1).flatMap((time, i) => (kinds[i] === 'STEP' ? [Math.max((times[i] + time) / 2, time - JUMP)] : [])),
  );
  const inside = [...all, ...before].filter((time) => time > first && time < last);
  const keys = [...new Set([first, ...inside, last])].sort((a, b) => a - b);
  return timesBetween(keys, (from, to) =>
    channels.reduce((sum, channel) => sum + changeBetween(channel, from, to), 0),
  ).filter((time, i, list) => i === 0 || time > list[i - 1]);
}

/** How much a channel asks for times between its keys: by the angle that it turns, or by all that it can bend. Radians. */
function changeBetween({ sampler, element, member }: ColladaChannel, from: number, to: number): number {
  const bends = sampler.kinds.some((kind) => kind === 'BEZIER' || kind === 'HERMITE');
  if (bends) return Math.PI;
  if (element.name !== 'rotate' || (member !== undefined && member !== 3)) return 0;
  const angle = (time: number) => valueAt(sampler, time)[sampler.size - 1];
  return (Math.abs(angle(to) - angle(from)) * Math.PI) / 180;
}

function placeOf(node: XmlElement, channels: readonly ColladaChannel[], time: number) {
  return transformOf(node, (element, numbers) => {
    const out = [...numbers];
    for (const channel of channels) {
      if (channel.element !== element) continue;
      const value = valueAt(channel.sampler, time);
      if (channel.member === undefined) out.splice(0, value.length, ...value);
      else out[channel.member] = value[0];
    }
    return out;
  });
}

/** Numbers of a channel at a time, held before its first and after its last key. */
function valueAt(sampler: Sampler, time: number): number[] {
  const { times, values, size, kinds } = sampler;
  const key = (k: number) => values.slice(k * size, (k + 1) * size);
  const next = keyAfter(times, time);
  if (next === 0) return key(0);
  const last = next - 1;
  const kind = kinds[last] ?? 'LINEAR';
  if (next === times.length || kind === 'STEP') return key(last);
  const [from, to] = [key(last), key(next)];
  const share = (time - times[last]) / (times[next] - times[last]);
  if (kind !== 'BEZIER' || !sampler.out || !sampler.into)
    return from.map((value, i) => value + (to[i] - value) * share);
  const { out, into } = sampler;
  return from.map((value, i) => {
    const [a, b] = [(last * size + i) * 2, (next * size + i) * 2];
    const at = cubic(times[last], out[a], into[b], times[next]);
    const s = solve(at, time);
    return cubic(value, out[a + 1], into[b + 1], to[i])(s);
  });
}

/** Bernstein's cubic through two points, by two control points. */
function cubic(p0: number, c0: number, c1: number, p1: number): (s: number) => number {
  return (s) => {
    const r = 1 - s;
    return r * r * r * p0 + 3 * s * r * r * c0 + 3 * s * s * r * c1 + s * s * s * p1;
  };
}

/** Where a rising curve reaches a value, by halving. */
function solve(curve: (s: number) => number, value: number): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2;
    if (curve(middle) < value) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
