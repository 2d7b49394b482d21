/** Movements in another time: from one moment to another only, faster or slower. */
import type { BlobStore } from '../surroundings.ts';
import { keyTimes, PATHS, sample, SIZES } from './motion.ts';
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

/** Pieces of a curve between two keys where it is cut: what is left of it goes straight between them. */
const PIECES = 8;

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
  const isCurve = interpolation === 'cubic';
  const moments = isCurve ? keys.flatMap((time, i) => (i === 0 ? [time] : piecesTo(keys[i - 1], time))) : keys;
  return {
    times: moments.map((time) => time - from),
    values: moments.flatMap((time) => sample(channel, time, path)),
    interpolation: isCurve ? 'linear' : interpolation,
  };
}

const piecesTo = (from: number, to: number) => Array.from({ length: PIECES }, (_, n) => from + ((to - from) * (n + 1)) / PIECES); // prettier-ignore

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
