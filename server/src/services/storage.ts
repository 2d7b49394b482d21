/** Stored scenes: kept as blobs, put together for a version, and made again from their files where they are of no use. */
import { PrismError } from '@noble-prism/core/errors';
import { keyOfSlots, mergeSlots } from '@noble-prism/core/preparation/slots';
import type { Shown } from '@noble-prism/core/preparation/slots';
import { packScene, unpackScene } from '@noble-prism/core/scene/sceneFile';
import type { Ground } from '@noble-prism/core/scene/sceneFile';
import type { Hash, Scene } from '@noble-prism/core/scene/types';
import type { BlobStore } from '@noble-prism/core/surroundings';
import type { Db } from '../db/connect.ts';
import { listSources, readAgain } from '../db/sources.ts';

/** @param ground a scene that is stored, and kept for as long as this one. @returns the name of the blob */
export async function storeScene(blobs: BlobStore, scene: Scene, ground?: Ground): Promise<Hash> {
  return blobs.put(await packScene(scene, ground));
}

/** A stored scene; nothing where it is lost, damaged or of another version of the program. */
export async function storedScene(blobs: BlobStore, hash: Hash): Promise<Scene | undefined> {
  try {
    return await unpackScene(await blobs.get(hash), async (ground) => unpackScene(await blobs.get(ground)));
  } catch (error) {
    if (error instanceof PrismError && (error.code === 'bad-scene' || error.code === 'missing-blob')) return undefined;
    throw error;
  }
}

/**
 * The sources of a version as one scene, in its order, and the name of it; those still being read or unreadable are left out, and those
 * whose stored scene is of no use are read again.
 */
export async function sourceScenes(
  db: Db,
  blobs: BlobStore,
  job: string,
  ids: readonly string[],
): Promise<{ base: Scene; key: string; waiting: number }> {
  const rows = new Map((await listSources(db, job)).map((row) => [row.id, row]));
  const scenes: { slot: string; scene: Scene }[] = [];
  const shown: Shown[] = [];
  let waiting = 0;
  for (const id of ids) {
    const row = rows.get(id);
    if (row?.state === 'reading') waiting++;
    if (!row?.scene) continue;
    const scene = await storedScene(blobs, row.scene);
    if (scene) {
      scenes.push({ slot: row.slot, scene });
      shown.push({ slot: row.slot, scene: row.scene });
    } else if (await readAgain(db, row, row.scene)) waiting++;
  }
  return { base: mergeSlots(scenes), key: keyOfSlots(shown), waiting };
}
