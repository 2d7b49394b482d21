/**
 * The demo's files as tests use them: authoring takes a third of a minute, and is done once for all of them. They are kept under the
 * name of the programs as they are bundled, so that a change of what makes them makes them anew.
 */
import { existsSync, readFileSync, realpathSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { programFile } from '@noble-prism/node/programs';
import { DEMO_FILES, writeDemoFiles } from './author.ts';

/** @returns the folder that holds them */
export async function keptDemoFiles(): Promise<string> {
  const made = basename(dirname(realpathSync(programFile('makeDemoJob'))));
  const folder = join(process.cwd(), 'test-results', `demo-of-${made}`);
  if (!existsSync(folder)) {
    const work = `${folder}-${process.pid}`;
    await writeDemoFiles(work);
    // Whoever is first: the bytes are the same each time.
    await rename(work, folder).catch(() => rm(work, { recursive: true, force: true }));
  }
  return folder;
}

export function demoBytes(folder: string): Map<string, Uint8Array> {
  return new Map(DEMO_FILES.map((name) => [name, new Uint8Array(readFileSync(join(folder, name)))]));
}
