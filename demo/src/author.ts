/** Authors the demo's STEP files with the kernel and writes them into a folder. The same bytes each time. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setOC } from 'replicad';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { driveUnit } from './driveUnit.ts';
import { sheaveTrain } from './sheaveTrain.ts';
import { writeAssembly } from './stepAssembly.ts';

export const DEMO_FILES = ['drive-unit.stp', 'sheave-train.stp'] as const;

/** @returns the texts by file name */
export async function authorDemo(): Promise<Map<string, string>> {
  setOC((await loadKernel()) as never);
  return new Map([
    [
      'drive-unit.stp',
      writeAssembly(await driveUnit(), {
        fileName: 'drive-unit.stp',
        description: 'Tarn Gondola, lower station: drive unit',
      }),
    ],
    [
      'sheave-train.stp',
      writeAssembly(await sheaveTrain(), {
        fileName: 'sheave-train.stp',
        description: 'Tarn Gondola, lower station: sheave train',
      }),
    ],
  ]);
}

export async function writeDemoFiles(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const [name, text] of await authorDemo()) await writeFile(join(folder, name), text);
}

if (process.argv[1]?.endsWith('author.ts')) await writeDemoFiles(process.argv[2] ?? 'demo/files');
