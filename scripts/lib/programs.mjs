// Our programs as plain JavaScript: bundled from the sources where one of them changed, run by Node as they are.
// Beside running sources through a loader, a start takes a third: nothing is compiled then, and a program is a few files instead of hundreds.
import { createHash, randomUUID } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  readlinkSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { basename, join, relative } from 'node:path';
import { root } from './run.mjs';

/** What each is called as a file, and where it begins. One that starts another finds it beside itself (node/src/programs.ts). */
const PROGRAMS = {
  prism: 'cli/src/prism.ts',
  batchChild: 'cli/src/batchChild.ts',
  server: 'server/src/main.ts',
  worker: 'server/src/worker/main.ts',
  runner: 'server/src/worker/runner.ts',
  sweep: 'server/src/sweep/main.ts',
  taskThread: 'node/src/taskThread.ts',
  makeDemoJob: 'demo/src/makeDemoJob.ts',
  serve: 'e2e/src/serve.ts',
};

/** Benchmarks are programs too; they are bundled where they are asked for. */
function benches() {
  const folder = join(root, 'bench', 'src');
  const names = readdirSync(folder).filter((name) => name.endsWith('.ts'));
  return Object.fromEntries(names.map((name) => [`bench/${basename(name, '.ts')}`, `bench/src/${name}`]));
}

/**
 * Packages that are plain modules are bundled too, which saves finding and reading some hundred files at a start. The others stay
 * outside: those with native code or WebAssembly beside them, and those that find files of their own.
 */
const INSIDE =
  /^(@gltf-transform\/|@noble\/hashes|fflate|papaparse|property-(expr|graph)|saxes|kysely|@tus\/|srvx|three($|\/)|three-mesh-bvh|tiny-case|toposort|xmlchars|yup)/;

/** Folders of bundles that nothing points to any more are kept so long, and as long as a program runs from them. Milliseconds. */
const KEPT = 24 * 60 * 60_000;

const OUTPUT = join(root, 'build');

/**
 * Bundles what is not there as the sources are.
 * @param set `programs`, or `benches` with all that they start
 * @returns the folder that holds them: `prism.mjs` and so on, with source maps
 */
export async function ensurePrograms({ set = 'programs', told = () => {} } = {}) {
  const current = join(OUTPUT, set);
  if (isFresh(current)) return realpathSync(current);
  const since = Date.now();
  const { build } = await import('esbuild');
  const { outputFiles, metafile } = await build({
    entryPoints: set === 'benches' ? { ...PROGRAMS, ...benches() } : PROGRAMS,
    absWorkingDir: root,
    outdir: OUTPUT,
    bundle: true,
    splitting: true,
    write: false,
    metafile: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: 'linked',
    sourcesContent: false,
    outExtension: { '.js': '.mjs' },
    chunkNames: 'parts/[name]-[hash]',
    plugins: [packagesOutside],
    logLevel: 'warning',
  });
  const hash = createHash('sha256');
  for (const { path, contents } of outputFiles) hash.update(relative(OUTPUT, path)).update(contents);
  const folder = `${set}-${hash.digest('hex').slice(0, 16)}`;
  const temporary = join(OUTPUT, `.${randomUUID()}`);
  for (const { path, contents } of outputFiles) {
    const file = join(temporary, relative(OUTPUT, path));
    mkdirSync(join(file, '..'), { recursive: true });
    writeFileSync(file, contents);
  }
  writeFileSync(join(temporary, 'inputs.json'), JSON.stringify(stampsOf(Object.keys(metafile.inputs), since)));
  moveTo(temporary, join(OUTPUT, folder));
  point(current, folder);
  forget();
  told(`Programs bundled in ${((Date.now() - since) / 1000).toFixed(1)} s.`);
  return join(OUTPUT, folder);
}

const packagesOutside = {
  name: 'packages-outside',
  setup({ onResolve }) {
    // What draws is for pages: without it a program has a third of the package to read.
    onResolve({ filter: /^three$/ }, () => ({ path: join(root, 'node_modules/three/src/Three.Core.js') }));
    onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || path.startsWith('@noble-prism/') || INSIDE.test(path) ? undefined : { external: true },
    );
  },
};

/** Files that a bundle is made of besides its own sources: how it is made, and of which packages. */
const ALWAYS = ['scripts/lib/programs.mjs', 'package-lock.json'];

/** What was changed while it was bundled is bundled again. */
function stampsOf(inputs, since) {
  const own = inputs.filter((path) => !path.includes('node_modules/'));
  const isLater = (path) => statSync(join(root, path)).mtimeMs > since;
  return Object.fromEntries([...own, ...ALWAYS].map((path) => [path, isLater(path) ? 'later' : stampOf(path)]));
}

function stampOf(path) {
  const { mtimeMs, size } = statSync(join(root, path), { throwIfNoEntry: false }) ?? {};
  return `${mtimeMs} ${size}`;
}

function isFresh(current) {
  try {
    const stamps = JSON.parse(readFileSync(join(current, 'inputs.json'), 'utf8'));
    return Object.entries(stamps).every(([path, stamp]) => stampOf(path) === stamp);
  } catch {
    return false;
  }
}

/** Another start may have been faster with the same bytes: those of its folder that differ are the stamps. */
function moveTo(temporary, folder) {
  try {
    renameSync(temporary, folder);
  } catch {
    renameSync(join(temporary, 'inputs.json'), join(folder, 'inputs.json'));
    rmSync(temporary, { recursive: true, force: true });
    utimesSync(folder, new Date(), new Date());
  }
}

/** Names change hands in one stroke: who starts meanwhile finds the old or the new, whole. */
function point(current, folder) {
  const link = join(OUTPUT, `.${randomUUID()}`);
  symlinkSync(folder, link);
  renameSync(link, current);
}

function forget() {
  const entries = readdirSync(OUTPUT, { withFileTypes: true });
  const links = entries.filter((entry) => entry.isSymbolicLink());
  const used = new Set(links.map(({ name }) => readlinkSync(join(OUTPUT, name))));
  for (const { name } of entries.filter((entry) => entry.isDirectory() && !used.has(entry.name))) {
    const path = join(OUTPUT, name);
    const { mtimeMs } = statSync(path, { throwIfNoEntry: false }) ?? { mtimeMs: Infinity };
    if (Date.now() - mtimeMs > KEPT && !isRunning(name)) rmSync(path, { recursive: true, force: true });
  }
}

/** Whether a process was started from there, where the system tells. */
function isRunning(folder) {
  if (!existsSync('/proc')) return false;
  return readdirSync('/proc').some((pid) => {
    try {
      return /^\d+$/.test(pid) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(folder);
    } catch {
      // It ended, or is somebody else's.
      return false;
    }
  });
}
