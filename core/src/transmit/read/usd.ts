/**
 * What stands in a file of USD, by the reader with which sources are received: it shares nothing with the writer. What only holds the
 * geometry of a row, or its camera or light, is taken as the row's own; the clips of the timeline are told apart by the layer's data.
 */
import { MemoryBlobs } from '../../memoryStores.ts';
import { Companions } from '../../read/companions.ts';
import { readSource } from '../../read/readSource.ts';
import { isZip, openPackage } from '../../read/zip.ts';
import { factsOf } from '../../scene/facts.ts';
import type { Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import type { WrittenFile } from '../../write/writer.ts';
import { expectedRows } from '../expected.ts';
import type { ExpectedMaterial } from '../expected.ts';
import type { FoundMaterial, FoundRow, PictureSlot } from '../found.ts';
import type { Movement } from '../movements.ts';

/** Prims that hold what a row shows, and are no rows. */
const OWN = new Set(['Geometry', 'Optics']);

/** @throws Error where the files cannot be read */
export async function openUsd(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const [first] = files;
  const beside = new Companions(new Map(files.map(({ name, bytes }) => [name, bytes])));
  const reading = await readSource({ name: first.name, bytes: first.bytes, beside }, 'file');
  const blobs = new MemoryBlobs();
  const scene = await reading.build(blobs, {});
  const expected = await expectedRows(scene, blobs);
  const clips = clipsIn(first);
  const materials = new Map<ExpectedMaterial, FoundMaterial>();
  const material = async (given: ExpectedMaterial) => {
    let made = materials.get(given);
    if (!made) materials.set(given, (made = await materialOf(given, scene, blobs)));
    return made;
  };
  const out: FoundRow[] = [];
  /** Number of the row that each is, or belongs to; null above the topmost. */
  const rowOf: (number | null)[] = [];
  for (const [i, row] of expected.entries()) {
    const { entity = '' } = scene.nodes.row(factsOf(scene).order[i]);
    const parent = row.parent === null ? null : rowOf[row.parent];
    const bodies = await Promise.all(
      row.bodies.map(async ({ geometry, material: given }) => ({
        geometry,
        ...(given ? { material: await material(given) } : {}),
      })),
    );
    const owner = parent !== null && OWN.has(entity.split('/').at(-1) ?? '') ? out[parent] : undefined;
    if (row.parent === null) rowOf.push(null);
    else if (owner) {
      owner.bodies.push(...bodies);
      Object.assign(owner, row.camera ? { camera: row.camera } : {}, row.light ? { light: row.light } : {});
      rowOf.push(parent);
    } else {
      rowOf.push(out.length);
      out.push({ ...row, parent, bodies, movements: row.movements.flatMap((movement) => inClips(movement, clips)) });
    }
  }
  return out;
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

async function materialOf(given: ExpectedMaterial, scene: Scene, blobs: BlobStore): Promise<FoundMaterial> {
  // There is no transmission: it is in the opacity.
  const { pictures, lost: _, transmission: __, ...values } = given;
  const found: FoundMaterial = { ...values, pictures: {} };
  for (const [slot, { use, files }] of Object.entries(pictures)) {
    if (files.length === 0) continue;
    found.pictures[slot as PictureSlot] = {
      bytes: await blobs.get(files[0]),
      mime: scene.textures[use.texture]?.mime ?? '',
      uv: use.uv,
      offset: use.offset ?? [0, 0],
      scale: use.scale ?? [1, 1],
      rotation: use.rotation ?? 0,
      wrap: use.wrap ?? 'repeat',
      strength: use.strength ?? 1,
    };
  }
  return found;
}
