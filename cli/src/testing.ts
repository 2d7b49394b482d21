/** For tests: the command line as a script calls it. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '..', '..');

export function prism(...args: string[]) {
  // As `npm run prism` does, without npm.
  const { status, stdout, stderr } = spawnSync(process.execPath, ['--import', 'tsx', 'cli/src/prism.ts', ...args], {
    cwd: root,
    encoding: 'utf8',
  });
  return {
    status,
    stderr,
    stdout,
    json: () =>
      JSON.parse(stdout) as Record<string, never> & { error: { code: string; file: string; message: string } },
  };
}
