// npm run typecheck: types of all workspaces, components with their templates too.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { errorsInComponents, nativeCompiler, writeComponentTypes } from './lib/componentTypes.mjs';
import { root, say } from './lib/run.mjs';

const build = join(root, 'build');
const modules = writeComponentTypes(join(root, 'web', 'src'), join(build, 'components'));

const { include } = JSON.parse(readFileSync(join(root, 'tsconfig.json'), 'utf8'));
const config = {
  extends: '../tsconfig.json',
  compilerOptions: { rootDirs: ['../web/src', './components'] },
  include: [...include.map((path) => `../${path}`), './components'],
  exclude: ['**/node_modules', '**/dist'],
};
const path = join(build, 'tsconfig.json');
writeFileSync(path, JSON.stringify(config));

const { said, failed } = nativeCompiler(path);
const errors = errorsInComponents(said, modules);
errors.forEach(say);
// Reports on what only the writing out has brought about are no failure; one that has nothing to report is.
process.exit(errors.length > 0 || (failed && !said) ? 1 : 0);
