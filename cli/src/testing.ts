/** For tests: the command line as a script calls it, as a program of its own or in this process. */
import { spawnSync } from 'node:child_process';
import { programFile } from '@noble-prism/node/programs';
import type { ThreadWorkbench } from '@noble-prism/node/threads';
import { run } from './run.ts';

type Report = Record<string, never> & { error: { code: string; file: string; message: string } };

export interface Answer {
  status: number | null;
  stdout: string;
  stderr: string;
  json(): Report;
}

/** A start of the program. */
export function prism(...args: string[]): Answer {
  const { status, stdout, stderr } = spawnSync(process.execPath, [programFile('prism'), ...args], { encoding: 'utf8' });
  return { status, stdout, stderr, json: () => JSON.parse(stdout) as Report };
}

/**
 * The same without a start: for what a start adds nothing to.
 * @param workbench kept by who calls, so that a kernel is loaded once
 */
export async function prismHere(args: readonly string[], workbench?: ThreadWorkbench): Promise<Answer> {
  let [stdout, stderr] = ['', ''];
  const terminal = { out: (text: string) => void (stdout += text), err: (text: string) => void (stderr += text) };
  const status = await run([...args], terminal, workbench ? { workbench } : {});
  return { status, stdout, stderr, json: () => JSON.parse(stdout) as Report };
}
