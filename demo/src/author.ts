/** Authors the demo's files, solids with the kernel, and writes them into a folder. The same bytes each time. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { setOC } from 'replicad';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { at, assembly } from './assemble.ts';
import { cabin, CABIN_PLACE } from './cabin.ts';
import { driveUnit } from './driveUnit.ts';
import { furniture } from './furniture.ts';
import { gate } from './gate.ts';
import { pump } from './pump.ts';
import { sheaveTrain } from './sheaveTrain.ts';
import { station } from './station.ts';
import { writeAssembly } from './stepAssembly.ts';
import { tower } from './tower.ts';

export const DEMO_FILES = [
  'drive-unit.stp',
  'sheave-train.stp',
  'cabin.stp',
  'lower-station.ifc',
  'furniture.zip',
  'boarding-gates.glb',
  'tensioning-pump.stp',
  'tower-1.glb',
] as const;

/** @returns the bytes by file name */
export async function authorDemo(): Promise<Map<string, Uint8Array>> {
  // The kernel is used for seconds: to optimize its code takes longer than it saves.
  setFlagsFromString('--liftoff-only');
  setOC((await loadKernel()) as never);
  const text = new TextEncoder();
  const [x, y, z] = CABIN_PLACE;
  const step = (...facts: Parameters<typeof writeAssembly>) => text.encode(writeAssembly(...facts));
  return new Map([
    [
      'drive-unit.stp',
      step(await driveUnit(), {
        fileName: 'drive-unit.stp',
        description: 'Tarn Gondola, lower station: drive unit',
      }),
    ],
    [
      'sheave-train.stp',
      step(await sheaveTrain(), {
        fileName: 'sheave-train.stp',
        description: 'Tarn Gondola, lower station: sheave train',
      }),
    ],
    [
      'cabin.stp',
      step(assembly('Cabin at the platform', [at(await cabin(), x, y, z)]), {
        fileName: 'cabin.stp',
        description: 'Tarn Gondola: cabin',
        unit: 'inch',
      }),
    ],
    ['lower-station.ifc', text.encode(station())],
    ['furniture.zip', furniture()],
    ['boarding-gates.glb', await gate()],
    [
      'tensioning-pump.stp',
      step(await pump(), {
        fileName: 'tensioning-pump.stp',
        description: 'Tarn Gondola, lower station: tensioning pump',
      }),
    ],
    ['tower-1.glb', await tower()],
  ]);
}

export async function writeDemoFiles(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const [name, bytes] of await authorDemo()) await writeFile(join(folder, name), bytes);
}
