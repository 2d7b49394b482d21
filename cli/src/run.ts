/** What `prism` does: surveys and prepares files with the core that the application uses. Each command loads what it needs itself. */
import { asPrismError } from '@noble-prism/core/errors';
import { modelsFrom } from './models.ts';
import { readOptions } from './options.ts';
import type { Options } from './options.ts';
import type { Bench } from './prepare.ts';

/** Where its words go. */
export interface Terminal {
  out(text: string): void;
  err(text: string): void;
}

/**
 * @param on what is shared with other runs
 * @returns the exit code: 0 where everything was done and holds; 3 where it holds, but a source was not read in full; 2 where it was asked
 *   for wrongly; 1 for all else
 */
export async function run(argv: string[], { out, err }: Terminal, on: Bench = {}): Promise<number> {
  try {
    const options = await readOptions(argv);
    if (options.command === 'help') {
      out(await help(options));
      return 0;
    }
    const { report, text, holds, incomplete } =
      options.command === 'survey' ? await surveyed(options) : await prepared(options, on);
    out(options.json ? `${JSON.stringify(report, null, 2)}\n` : `${text}\n`);
    return !holds ? 1 : incomplete ? 3 : 0;
  } catch (thrown) {
    const error = asPrismError(thrown);
    if (argv.includes('--json')) out(`${JSON.stringify({ error: error.toJSON() }, null, 2)}\n`);
    else err(`${error.message}${error.where ? ` (${error.where})` : ''}\n`);
    return error.code === 'bad-parameters' ? 2 : 1;
  }
}

async function help({ about }: Options): Promise<string> {
  if (!about) return (await import('./usage.ts')).USAGE;
  return (await import('@noble-prism/core/steps/manual')).stepsManual(about.kind);
}

async function surveyed(options: Options) {
  return { ...(await (await import('./survey.ts')).survey(options)), incomplete: undefined };
}

/** One file, or several that are one scene; or a batch. */
async function prepared(options: Options, on: Bench) {
  const models = await modelsFrom(options.files, options.out);
  const isOne = options.together || (models.length === 1 && models[0].path === options.files[0]);
  if (!isOne) return (await import('./batch.ts')).batch(models, options);
  (await import('./wholeFiles.ts')).tidyWhenStopped();
  return (await import('./prepare.ts')).prepare({ ...options, files: models.map(({ path }) => path) }, on);
}
