/** A second reader of USD, to compare with: a C++ library of its own, built for the browser. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { NativeLoader, NativeMesh } from 'tinyusdz';

let make: Promise<new () => NativeLoader> | undefined;

async function loader(): Promise<new () => NativeLoader> {
  // It refuses to run where it sees no browser.
  Object.assign(globalThis, { window: globalThis });
  Object.assign(process, { type: 'renderer' });
  const { default: load } = await import('tinyusdz');
  const wasm = createRequire(import.meta.url)
    .resolve('tinyusdz')
    .replace(/\.js$/, '.wasm');
  const { TinyUSDZLoaderNative } = await load({ wasmBinary: readFileSync(wasm) });
  return TinyUSDZLoaderNative;
}

/** Meshes of a file as the second reader has them. @throws Error where it cannot read the file */
export async function meshesOfSecondReader(bytes: Uint8Array, name: string): Promise<NativeMesh[]> {
  const Loader = await (make ??= loader());
  const second = new Loader();
  if (!second.loadFromBinary(bytes, name)) throw new Error(second.error());
  return Array.from({ length: second.numMeshes() }, (_, i) => second.getMesh(i));
}
