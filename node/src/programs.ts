/**
 * Where our programs stand as plain JavaScript (scripts/lib/programs.mjs bundles them): one that runs from there finds the others
 * beside itself, so that a server goes on with the worker of its own making while newer ones are bundled.
 */
import { fileURLToPath } from 'node:url';

/** Programs that others start. */
export type Program = 'batchChild' | 'makeDemoJob' | 'prism' | 'runner' | 'server' | 'sweep' | 'taskThread' | 'worker';

/** Tests run this from its source; there the programs of the repository are meant. */
const FOLDER = import.meta.url.endsWith('.ts')
  ? new URL('../../build/programs/', import.meta.url)
  : new URL(/\/(parts|bench)\/[^/]*$/.test(import.meta.url) ? '../' : './', import.meta.url);

/** File to start a process or a thread with. */
export const programFile = (program: Program): string => fileURLToPath(new URL(`${program}.mjs`, FOLDER));
