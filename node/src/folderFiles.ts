/** The files of a folder as companions of a file in it: listed at once, read when something refers to them. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { PrismError } from '@noble-prism/core/errors';
import { Companions } from '@noble-prism/core/read/companions';
import { MAX_FILE_BYTES } from '@noble-prism/core/read/fileSize';
import { endingOf } from '@noble-prism/core/read/paths';
import { deliveryOf } from '@noble-prism/core/read/package';

/** Deepest folder below, and most files: a home folder is not a delivery. */
const MAX_DEPTH = 3;
const MAX_FILES = 5000;
/** Deepest folder below one that is named for the models in it. */
const DEEPEST = 12;

export function companionsIn(folder: string): Companions {
  return new Companions(new FolderFiles(folder, MAX_DEPTH));
}

/**
 * The models and packages in a folder and in all folders of it, by path below it, without what only belongs to another one (the parts that an
 * assembly puts in their places, material files, pictures).
 * @param outside folders of it that are passed over, by path below it
 * @throws PrismError `too-large` where there are more files than a delivery has
 */
export async function modelsIn(folder: string, outside: readonly string[] = []): Promise<string[]> {
  const files = new FolderFiles(folder, DEEPEST);
  if (files.size >= MAX_FILES) {
    const message = `${folder} holds more than ${MAX_FILES} files. Name folders in it, a few at a time.`;
    throw new PrismError('too-large', message, { file: folder });
  }
  for (const path of files.keys()) if (outside.some((other) => path.startsWith(`${other}/`))) files.delete(path);
  const { models, ignored } = await deliveryOf(new Companions(files));
  const packages = ignored.filter((path) => endingOf(path) === 'zip');
  const wanted = new Set([...models.map(({ model }) => model), ...packages]);
  return [...files.keys()].filter((path) => wanted.has(path));
}

class FolderFiles extends Map<string, Uint8Array> {
  constructor(
    readonly folder: string,
    readonly deepest: number,
  ) {
    super();
    this.#list(folder, 0);
  }

  override get(path: string): Uint8Array | undefined {
    if (!this.has(path)) return undefined;
    const full = join(this.folder, path);
    if (statSync(full).size > MAX_FILE_BYTES) return undefined;
    return new Uint8Array(readFileSync(full));
  }

  #list(at: string, depth: number): void {
    const entries = readdirSync(at, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1));
    for (const entry of entries) {
      if (this.size >= MAX_FILES || entry.name.startsWith('.')) continue;
      const full = join(at, entry.name);
      // Links are not followed: they may lead anywhere.
      if (entry.isFile()) this.set(relative(this.folder, full).split(sep).join('/'), new Uint8Array());
      else if (entry.isDirectory() && depth < this.deepest) this.#list(full, depth + 1);
    }
  }
}
