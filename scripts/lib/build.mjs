// The interface: built when a source is newer than what was built.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { root, run, say } from './run.mjs';

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    if (entry.isFile()) latest = Math.max(latest, statSync(join(entry.parentPath ?? entry.path, entry.name)).mtimeMs);
  }
  return latest;
}

export function ensureBuild() {
  const built = join(root, 'web', 'dist', 'index.html');
  const sources = [
    newest(join(root, 'web', 'src')),
    newest(join(root, 'core', 'src')),
    newest(join(root, 'wire', 'src')),
    statSync(join(root, 'package-lock.json')).mtimeMs,
  ];
  const own = ['index.html', 'vite.config.ts'].map((name) => statSync(join(root, 'web', name)).mtimeMs);
  if (existsSync(built) && statSync(built).mtimeMs > Math.max(...sources, ...own)) return;
  say('Building the interface, about 10 s …');
  // Packages that are made for Node too name files of it that no page asks for: warnings that say nothing about us.
  const args = [join(root, 'node_modules', 'vite', 'bin', 'vite.js'), 'build', '--logLevel', 'error'];
  run(process.execPath, args, { cwd: join(root, 'web'), stdio: ['ignore', 'ignore', 'inherit'] });
}
