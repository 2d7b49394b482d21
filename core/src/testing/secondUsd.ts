/** A second reader of USD, to compare with: a C++ library of its own, built for the browser. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { NativeLoader, NativeMesh } from 'tinyusdz';

let make: Promise<new () => NativeLoader> | undefined;

async function loader(): Promise<new () => NativeLoader> {
  const wasm = createRequire(import.meta.url)
    .resolve('tinyusdz')
    .replace(/\.js$/, '.wasm');
  // It refuses to start where it sees no browser. Other libraries would take this for one too.
  Object.assign(globalThis, { window: globalThis });
  Object.assign(process, { type: 'renderer' });
  try {
    const { default: load } = await import('tinyusdz');
    const { TinyUSDZLoaderNative } = await load({ wasmBinary: readFileSync(wasm) });
    return TinyUSDZLoaderNative;
  } finally {
    Reflect.deleteProperty(globalThis, 'window');
    Reflect.deleteProperty(process, 'type');
  }
}

/** Meshes of a file as the second reader has them. @throws Error where it cannot read the file */
export async function meshesOfSecondReader(bytes: Uint8Array, name: string): Promise<NativeMesh[]> {
  const Loader = await (make ??= loader());
  const second = new Loader();
  if (!second.loadFromBinary(bytes, name)) throw new Error(second.error());
  return Array.from({ length: second.numMeshes() }, (_, i) => second.getMesh(i));
}
