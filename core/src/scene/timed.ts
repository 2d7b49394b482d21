/** Movements in another time: from one moment to another only, faster or slower. */
import type { BlobStore } from '../surroundings.ts';
import { keyAfter, keyTimes, PATHS, sample, SIZES } from './motion.ts';
import type { AnimationKeys, Channel, Path, Track } from './motion.ts';
import { SceneEditor } from './editor.ts';
import type { AnimationInfo, Scene } from './types.ts';

export interface Timing {
  /** How many times as fast. */
  speed?: number;
  /** What lies before and after is cut off, seconds; it begins at zero then. */
  from?: number;
  to?: number;
}

export async function timed(scene: Scene, blobs: BlobStore, { speed = 1, from, to }: Timing): Promise<Scene> {
  if (speed === 1 && from === undefined && to === undefined) return scene;
  const edit = new SceneEditor(scene);
  const changed: Record<string, AnimationInfo> = {};
  for (const [id, info] of Object.entries(scene.animations)) {
    if (!info.keys) continue;
    const { tracks } = JSON.parse(new TextDecoder().decode(await blobs.get(info.keys))) as AnimationKeys;
    const first = from ?? 0;
    const last = Math.max(first, to ?? Infinity);
    const made = tracks.map((track) => faster(cut(track, first, last), speed));
    const duration = Math.max(0, ...made.flatMap((track) => keyTimes(track).slice(-1)));
    const keys = await blobs.put(new TextEncoder().encode(JSON.stringify({ tracks: made } satisfies AnimationKeys)));
    changed[id] = { ...info, duration, keys };
  }
  edit.setAnimations(changed);
  return edit.finish().scene;
}

function cut(track: Track, from: number, to: number): Track {
  const all = keyTimes(track);
  if (all.length === 0 || (from <= 0 && to >= all[all.length - 1])) return track;
  const out: Track = {};
  for (const path of PATHS) {
    const channel = track[path];
    if (channel) out[path] = cutChannel(channel, path, from, Math.min(to, all[all.length - 1]));
  }
  return out;
}

function cutChannel(channel: Channel, path: Path, from: number, to: number): Channel {
  const { times, interpolation } = channel;
  const inside = times.filter((time) => time > from && time < to);
  const keys = [from, ...inside, ...(to > from ? [to] : [])];
  const values = keys.flatMap((time) => (interpolation === 'cubic' ? curveAt(channel, path, time) : sample(channel, time, path))); // prettier-ignore
  return { times: keys.map((time) => time - from), values, interpolation };
}

/** In-tangent, value and out-tangent at a time: a piece of a curve of third degree is one too, by the changes at its ends. */
function curveAt({ times, values }: Channel, path: Path, time: number): number[] {
  const size = SIZES[path];
  const part = (key: number, which: number) => values.slice((key * 3 + which) * size, (key * 3 + which + 1) * size);
  const next = keyAfter(times, time);
  if (times[next - 1] === time) return values.slice((next - 1) * 3 * size, next * 3 * size);
  const still = new Array<number>(size).fill(0);
  if (next === 0 || next === times.length) return [...still, ...part(next === 0 ? 0 : next - 1, 1), ...still];
  const span = times[next] - times[next - 1];
  const t = (time - times[next - 1]) / span;
  const [v0, out, into, v1] = [part(next - 1, 1), part(next - 1, 2), part(next, 0), part(next, 1)];
  const [t2, t3] = [t * t, t * t * t];
  const value = v0.map((v, i) => (2 * t3 - 3 * t2 + 1) * v + span * (t3 - 2 * t2 + t) * out[i] + (3 * t2 - 2 * t3) * v1[i] + span * (t3 - t2) * into[i]); // prettier-ignore
  const change = v0.map((v, i) => ((6 * t2 - 6 * t) / span) * v + (3 * t2 - 4 * t + 1) * out[i] + ((6 * t - 6 * t2) / span) * v1[i] + (3 * t2 - 2 * t) * into[i]); // prettier-ignore
  return [...change, ...value, ...change];
}

function faster(track: Track, speed: number): Track {
  if (speed === 1) return track;
  const out: Track = {};
  for (const path of PATHS) {
    const channel = track[path];
    if (!channel) continue;
    const { times, values, interpolation } = channel;
    const size = SIZES[path];
    // Tangents are changes in a second, on both sides of each value.
    const isTangent = (i: number) => interpolation === 'cubic' && Math.floor(i / size) % 3 !== 1;
    out[path] = {
      times: times.map((time) => time / speed),
      values: values.map((value, i) => (isTangent(i) ? value * speed : value)),
      interpolation,
    };
  }
  return out;
}
