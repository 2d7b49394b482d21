/** For tests: the command line as a script calls it. */
import { spawnSync } from 'node:child_process';
import { programFile } from '@noble-prism/node/programs';

export function prism(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [programFile('prism'), ...args], {
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
