// npm packages: installed when they are missing or the lock file has changed.
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { root, run, say } from './run.mjs';

/** @param told hears what takes time */
export function ensurePackages(told = say) {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major !== 20 || minor < 19) {
    told(
      `Noble Prism is made for Node 20.19 or later of the 20 line; this is ${process.versions.node}. Trying anyway.`,
    );
  }
  const marker = join(root, 'node_modules', '.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(lock).mtimeMs) return;
  told('Installing packages from the npm registry, about half a minute …');
  // What npm has to say of its own settings and of scripts that it does not run is no news to who starts us; errors are.
  const env = { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' };
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
}
