// npm run bench: everything that a fresh machine needs, then all figures of speed.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureModels } from './lib/models.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensurePrograms } from './lib/programs.mjs';
import { root, say } from './lib/run.mjs';

try {
  ensurePackages();
  const env = { ...process.env, MODELS: ensureModels() };
  const { status } = spawnSync(
    process.execPath,
    [join(await ensurePrograms({ set: 'benches', told: say }), 'bench', 'all.mjs')],
    {
      cwd: root,
      env,
      stdio: 'inherit',
    },
  );
  process.exit(status ?? 1);
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
