/** Writes the files of a delivery: all of them under their names, or none. */
import { rmSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Content } from '@noble-prism/core/content';
import { PrismError } from '@noble-prism/core/errors';

export interface FileToWrite {
  /** Path below the folder. */
  name: string;
  content: Content;
}

/** What is being written and has not its name yet. */
const unfinished = new Set<string>();

/**
 * The files get their names when all are written, and not before: what is stopped or finds the disk full leaves those of an earlier
 * delivery as they are.
 * @throws PrismError `internal` naming the file, with nothing left behind
 */
export async function writeWhole(folder: string, files: readonly FileToWrite[]): Promise<void> {
  const paths = files.map(({ name }) => join(folder, name));
  const temporary = paths.map((path) => `${path}.part`);
  let at = folder;
  try {
    for (const [i, { content }] of files.entries()) {
      at = paths[i];
      await mkdir(dirname(at), { recursive: true });
      unfinished.add(temporary[i]);
      await writeFile(temporary[i], content.pieces());
    }
    for (const [i, path] of paths.entries()) {
      at = path;
      await rename(temporary[i], path);
    }
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    const why = code === 'ENOSPC' ? 'the disk is full' : message;
    throw new PrismError('internal', `${at} could not be written: ${why}. Nothing of this delivery was kept.`, {
      file: at,
    });
  } finally {
    for (const path of temporary) {
      await rm(path, { force: true });
      unfinished.delete(path);
    }
  }
}

/** Has what is being written removed where the program is told to stop, or the process that it works for is gone. */
export function tidyWhenStopped(): void {
  const ends = { SIGINT: 130, SIGTERM: 143, disconnect: 1 };
  for (const [event, code] of Object.entries(ends))
    process.once(event, () => {
      for (const path of unfinished) rmSync(path, { force: true });
      process.exit(code);
    });
}
