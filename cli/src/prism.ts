/** `prism`: surveys and prepares files on the command line, with the core that the application uses. */
import { asPrismError } from '@noble-prism/core/errors';
import { stepsManual } from '@noble-prism/core/steps/manual';
import { modelsFrom } from './models.ts';
import { readOptions, USAGE } from './options.ts';
import type { Options } from './options.ts';
import { prepare } from './prepare.ts';
import { survey } from './survey.ts';
import { tidyWhenStopped } from './wholeFiles.ts';

async function main(): Promise<void> {
  const options = await readOptions(process.argv.slice(2));
  if (options.command === 'help')
    return void process.stdout.write(options.about ? stepsManual(options.about.kind) : USAGE);
  const { report, text, holds } =
    options.command === 'survey' ? { ...(await survey(options)), holds: true } : await prepared(options);
  process.exitCode = holds ? 0 : 1;
  process.stdout.write(options.json ? `${JSON.stringify(report, null, 2)}\n` : `${text}\n`);
}

/** One file, or several that are one scene; or a batch. */
async function prepared(options: Options) {
  const models = await modelsFrom(options.files, options.out);
  const isOne = options.together || (models.length === 1 && models[0].path === options.files[0]);
  if (!isOne) return (await import('./batch.ts')).batch(models, options);
  tidyWhenStopped();
  return prepare({ ...options, files: models.map(({ path }) => path) });
}

main().then(
  () => process.exit(process.exitCode ?? 0),
  (thrown: unknown) => {
    const error = asPrismError(thrown);
    if (process.argv.includes('--json'))
      process.stdout.write(`${JSON.stringify({ error: error.toJSON() }, null, 2)}\n`);
    else process.stderr.write(`${error.message}${error.where ? ` (${error.where})` : ''}\n`);
    process.exit(error.code === 'bad-parameters' ? 2 : 1);
  },
);
