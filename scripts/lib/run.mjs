// Running programs, and finding them.
import { spawnSync } from 'node:child_process';
import { accessSync, constants } from 'node:fs';
import { delimiter, join } from 'node:path';

export const root = join(import.meta.dirname, '..', '..');
export const isRoot = process.getuid?.() === 0;

/** Runs a program and shows its output; throws where it fails. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { stdio: 'inherit', cwd: root, ...options });
  if (error) throw new Error(`${command} could not be started: ${error.message}`);
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${status}`);
}

/** Runs a program and shows what it says only where it fails. */
export function quietly(command, args, options = {}) {
  const { status, error, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8', cwd: root, ...options });
  if (error) throw new Error(`${command} could not be started: ${error.message}`);
  if (status !== 0) throw new Error(`${stdout}${stderr}\n${command} ${args.join(' ')} ended with ${status}`);
}

/** Runs a program and returns what it wrote, or undefined where it failed. */
export function ask(command, args, options = {}) {
  const { status, stdout } = spawnSync(command, args, { encoding: 'utf8', cwd: root, ...options });
  return status === 0 ? stdout.trim() : undefined;
}

/** Path of the first program that exists, by name on PATH or by full path. */
export function find(...names) {
  const folders = (process.env.PATH ?? '').split(delimiter);
  for (const name of names) {
    const candidates = name.includes('/') ? [name] : folders.map((folder) => join(folder, name));
    for (const candidate of candidates) {
      try {
        accessSync(candidate, constants.X_OK);
        return candidate;
      } catch {
        // Not there: the next one.
      }
    }
  }
  return undefined;
}

/** Installs packages of Debian; only root may. */
export function aptInstall(...packages) {
  const options = ['-o', 'DPkg::Lock::Timeout=300', '-qq'];
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  console.log(`Installing ${packages.join(', ')} from Debian’s packages, about half a minute …`);
  quietly('apt-get', [...options, 'update'], { env });
  quietly('apt-get', [...options, 'install', '-y', '--no-install-recommends', ...packages], { env });
}

export function say(text) {
  console.log(text);
}
