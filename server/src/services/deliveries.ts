/** Deliveries as plain files in a folder on the server: a folder for each, with all of its files or none. */
import { randomUUID } from 'node:crypto';
import { access, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';
import { PrismError } from '@noble-prism/core/errors';
import type { WrittenFile } from '@noble-prism/core/write/writer';

/**
 * Writes files into a folder of their own, under its final name only when all are there. Where there is one of the name it gets a number.
 * @param root folder of all deliveries
 * @returns its path below the root
 * @throws PrismError `internal` where the disk is full or cannot be written, with nothing left behind
 */
export async function putInFolder(root: string, name: string, files: readonly WrittenFile[]): Promise<string> {
  const temporary = join(root, `.unfinished-${randomUUID()}`);
  try {
    for (const file of files) {
      const path = resolve(temporary, file.name);
      if (!path.startsWith(temporary + sep)) throw new PrismError('internal', `${file.name} would leave its folder.`);
      await mkdir(dirname(path), { recursive: true });
      await writeFile(path, file.content.pieces());
    }
    for (let n = 1; ; n++) {
      const own = n === 1 ? name : `${name}_${n}`;
      if (await exists(join(root, own))) continue;
      await mkdir(dirname(join(root, own)), { recursive: true });
      await rename(temporary, join(root, own));
      return own;
    }
  } catch (error) {
    await rm(temporary, { recursive: true, force: true });
    if (error instanceof PrismError) throw error;
    const { code, message } = error as NodeJS.ErrnoException;
    const why = code === 'ENOSPC' ? 'the disk of the server is full' : message;
    throw new PrismError('internal', `The delivery could not be put into its folder: ${why}. Nothing was left there.`);
  }
}

const exists = (path: string) =>
  access(path).then(
    () => true,
    () => false,
  );
