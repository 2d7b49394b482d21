/** Takes blobs out of a folder that nothing needs, and says how much is there. */
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';

export interface SpaceUsed {
  files: number;
  bytes: number;
}

export interface Swept extends SpaceUsed {
  /** What was taken away. */
  freed: SpaceUsed;
}

/**
 * @param needed whether a blob of this name is
 * @param before time in milliseconds: what is younger stays, whatever nobody says of it yet
 */
export async function sweepBlobs(folder: string, needed: (hash: string) => boolean, before: number): Promise<Swept> {
  const kept = { files: 0, bytes: 0 };
  const freed = { files: 0, bytes: 0 };
  for (const part of await readdir(folder).catch(() => [])) {
    if (!/^[0-9a-f]{2}$/.test(part)) continue;
    for (const name of await readdir(join(folder, part)).catch(() => [])) {
      const path = join(folder, part, name);
      const info = await stat(path).catch(() => undefined);
      if (!info?.isFile()) continue;
      // What begins with a point was being written when a process died.
      const isSpare = info.mtimeMs < before && (name.startsWith('.') || !needed(part + name));
      if (isSpare) await rm(path, { force: true });
      const sum = isSpare ? freed : kept;
      sum.files++;
      sum.bytes += info.size;
    }
  }
  return { ...kept, freed };
}

/** Files of a folder that were not written to since a time, and are gone after this. */
export async function sweepFiles(folder: string, before: number): Promise<SpaceUsed> {
  const freed = { files: 0, bytes: 0 };
  for (const name of await readdir(folder).catch(() => [])) {
    const path = join(folder, name);
    const info = await stat(path).catch(() => undefined);
    if (!info?.isFile() || info.mtimeMs >= before) continue;
    await rm(path, { force: true });
    freed.files++;
    freed.bytes += info.size;
  }
  return freed;
}

/** Everything in a folder and the folders in it. */
export async function sizeOf(folder: string): Promise<SpaceUsed> {
  const sum = { files: 0, bytes: 0 };
  for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) {
      const inner = await sizeOf(path);
      sum.files += inner.files;
      sum.bytes += inner.bytes;
    } else if (entry.isFile()) {
      sum.files++;
      sum.bytes += (await stat(path).catch(() => ({ size: 0 }))).size;
    }
  }
  return sum;
}
