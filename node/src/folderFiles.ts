/** The files of a folder as companions of a file in it: listed at once, read when something refers to them. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { Companions } from '@noble-prism/core/read/companions';
import { MAX_FILE_BYTES } from '@noble-prism/core/read/fileSize';

/** Deepest folder below, and most files: a home folder is not a delivery. */
const MAX_DEPTH = 3;
const MAX_FILES = 5000;

export function companionsIn(folder: string): Companions {
  return new Companions(new FolderFiles(folder));
}

class FolderFiles extends Map<string, Uint8Array> {
  constructor(readonly folder: string) {
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
    for (const entry of readdirSync(at, { withFileTypes: true })) {
      if (this.size >= MAX_FILES || entry.name.startsWith('.')) continue;
      const full = join(at, entry.name);
      // Links are not followed: they may lead anywhere.
      if (entry.isFile()) this.set(relative(this.folder, full).split(sep).join('/'), new Uint8Array());
      else if (entry.isDirectory() && depth < MAX_DEPTH) this.#list(full, depth + 1);
    }
  }
}
