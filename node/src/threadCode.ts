/**
 * The code of the worker threads as plain JavaScript, bundled once per change of it: a thread that has to load and translate
 * TypeScript by itself takes a second to start, one that loads a bundle a twentieth.
 */
import { createHash, randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import type { Plugin } from 'esbuild';

const ENTRY = fileURLToPath(new URL('./taskThread.ts', import.meta.url));
/** Below the repository, so that packages are found from there. */
const CACHE = fileURLToPath(new URL('../../node_modules/.cache/noble-prism', import.meta.url));

/** Our own workspaces are bundled; packages stay outside and are loaded as they are. */
const packagesOutside: Plugin = {
  name: 'packages-outside',
  setup({ onResolve }) {
    onResolve({ filter: /^[^.]/ }, ({ path, kind }) =>
      kind === 'entry-point' || path.startsWith('@noble-prism/') ? undefined : { external: true },
    );
  },
};

let code: Promise<URL> | undefined;

/** File to start a thread with. */
export function threadCode(): Promise<URL> {
  code ??= bundle();
  return code;
}

async function bundle(): Promise<URL> {
  const { outputFiles } = await build({
    entryPoints: [ENTRY],
    outdir: CACHE,
    bundle: true,
    splitting: true,
    write: false,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    outExtension: { '.js': '.mjs' },
    plugins: [packagesOutside],
  });
  const hash = createHash('sha256');
  for (const { path, contents } of outputFiles) hash.update(basename(path)).update(contents);
  const folder = join(CACHE, hash.digest('hex').slice(0, 16));
  if (!existsSync(folder)) {
    const temporary = join(CACHE, `.${randomUUID()}`);
    await mkdir(temporary, { recursive: true });
    for (const { path, contents } of outputFiles) await writeFile(join(temporary, basename(path)), contents);
    // Another process may have been faster with the same bytes.
    await rename(temporary, folder).catch(() => rm(temporary, { recursive: true, force: true }));
  }
  return pathToFileURL(join(folder, `${basename(ENTRY, '.ts')}.mjs`));
}
