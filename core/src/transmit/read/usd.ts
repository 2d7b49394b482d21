/**
 * What stands in a file of USD, by the reader with which sources are received: it shares nothing with the writer. What only holds the
 * geometry of a row, or its camera or light, is taken as the row's own; the clips of the timeline are told apart by the layer's data.
 */
import { isZip, openPackage } from '../../read/zip.ts';
import type { WrittenFile } from '../../write/writer.ts';
import type { FoundRow } from '../found.ts';
import type { Movement } from '../movements.ts';
import { folded, readRows } from './source.ts';

/** Prims that hold what a row shows, and are no rows. */
const OWN = new Set(['Geometry', 'Optics']);

/** @throws Error where the files cannot be read */
export async function openUsd(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const [first] = files;
  const { scene, rows } = await readRows(files);
  const clips = clipsIn(first);
  const [root, ...others] = folded(scene, rows, ({ entity = '' }) => OWN.has(entity.split('/').at(-1) ?? ''));
  // An asset by itself is its topmost prim.
  if (root.bodies.length > 0 && others.length === 0) return [root];
  // That of a scene stands above all rows, and is none.
  if (root.parent !== null) throw new Error('no prim stands above the others');
  return others.map(({ parent, movements, ...row }) => ({
    ...row,
    parent: parent === null || parent === 0 ? null : parent - 1,
    movements: movements.flatMap((movement) => inClips(movement, clips)),
  }));
}

/** Bytes of the layer in which its data stand: they come first. */
const HEAD = 1_000_000;

interface Clip {
  name: string;
  /** Seconds. */
  start: number;
  end: number;
}

/** Names and spans of the clips, as the data of the layer have them. */
function clipsIn({ name, bytes }: WrittenFile): Clip[] {
  const layer = isZip(bytes) ? [...(openPackage({ name, bytes })?.files.values() ?? [])][0] : bytes;
  const head = new TextDecoder().decode(layer.subarray(0, HEAD)).split('\n)')[0];
  const list = (key: string) => new RegExp(`${key} = (\\[.*\\])`).exec(head)?.[1] ?? '[]';
  const codes = Number(/timeCodesPerSecond = ([\d.]+)/.exec(head)?.[1] ?? 24);
  const [names, starts, ends] = ['clipNames', 'clipStarts', 'clipEnds'].map(
    (key) => JSON.parse(list(key)) as (string & number)[],
  );
  return names.map((clip, i) => ({ name: clip, start: starts[i] / codes, end: ends[i] / codes }));
}

/** Two moments this near are one, seconds: time codes are rounded. */
const INSTANT = 1e-6;

/** What moves a row in each clip: in those in which it has keys. */
function inClips(movement: Movement, clips: readonly Clip[]): Movement[] {
  return clips
    .flatMap(({ name, start, end }) => {
      const times = movement.times.filter((time) => time >= start - INSTANT && time <= end + INSTANT);
      const own = times.map((time) => Math.max(0, time - start));
      return times.length > 0 ? [{ animation: name, times: own, at: (time: number) => movement.at(time + start) }] : [];
    })
    .sort((a, b) => (a.animation < b.animation ? -1 : a.animation > b.animation ? 1 : 0));
}
