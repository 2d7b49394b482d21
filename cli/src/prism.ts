/** `prism`: surveys and prepares files on the command line, with the core that the application uses. */
import { asPrismError } from '@noble-prism/core/errors';
import { stepsManual } from '@noble-prism/core/steps/manual';
import { readOptions, USAGE } from './options.ts';
import { prepare } from './prepare.ts';
import { survey } from './survey.ts';

async function main(): Promise<void> {
  const options = await readOptions(process.argv.slice(2));
  if (options.command === 'help')
    return void process.stdout.write(options.about ? stepsManual(options.about.kind) : USAGE);
  const { report, text } = options.command === 'survey' ? await survey(options) : await prepare(options);
  process.stdout.write(options.json ? `${JSON.stringify(report, null, 2)}\n` : `${text}\n`);
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
