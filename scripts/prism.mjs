// npm run prism: the command line, from a fresh clone too. What it says of itself must not stand in what programs are told.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ensurePackages } from './lib/packages.mjs';
import { ensurePrograms } from './lib/programs.mjs';

const told = (text) => process.stderr.write(`${text}\n`);
try {
  ensurePackages(told);
  const folder = await ensurePrograms({ told });
  await import(pathToFileURL(join(folder, 'prism.mjs')).href);
} catch (error) {
  told(error.message);
  process.exit(1);
}
