/** Loads the kernel's wasm file from its package, for Node. */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type { Kernel } from '@noble-prism/core/solid/kernel';

const require = createRequire(import.meta.url);

export async function loadKernel(): Promise<Kernel> {
  // The module was made for CommonJS and looks for these two names.
  Object.assign(globalThis, { require, __dirname: dirname(require.resolve('replicad-opencascadejs')) });
  const folder = dirname(require.resolve('replicad-opencascadejs'));
  const { default: init } = await import('replicad-opencascadejs');
  const wasmBinary = await readFile(join(folder, 'replicad_single.wasm'));
  const silent = () => {};
  return (init as (options: object) => Promise<Kernel>)({ wasmBinary, print: silent, printErr: silent });
}
