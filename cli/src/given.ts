/** What is given on the command line and in files that it names. */
import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { PrismError } from '@noble-prism/core/errors';

/** @throws PrismError `bad-parameters` */
export function parse(argv: string[]) {
  const text = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  try {
    return parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        out: text,
        chord: text,
        angle: text,
        keep: text,
        deviation: text,
        schedule: text,
        steps: text,
        to: text,
        targets: text,
        unit: text,
        split: text,
        modular: flag,
        up: text,
        name: text,
        coordinates: text,
        'side-by-side': text,
        together: flag,
        json: flag,
        tree: flag,
        help: { ...flag, short: 'h' },
      },
    });
  } catch (error) {
    throw bad((error as Error).message);
  }
}

export type Values = ReturnType<typeof parse>['values'];

/** What is asked for cannot be done so. */
export function bad(message: string): PrismError {
  return new PrismError('bad-parameters', message);
}

/** @throws PrismError `not-found` */
export async function readText(path: string): Promise<string> {
  try {
    return await readFile(path, 'utf8');
  } catch {
    throw new PrismError('not-found', `${path} cannot be read.`, { file: path });
  }
}

/** @throws PrismError `not-found`, `bad-parameters` */
export async function readJson(path: string): Promise<unknown> {
  const text = await readText(path);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new PrismError('bad-parameters', `${path} is not JSON: ${(error as Error).message}.`, { file: path });
  }
}
