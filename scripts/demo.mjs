// npm run demo: from a fresh clone to the running application with the demo job.
import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensurePostgres } from './lib/postgres.mjs';
import { ensurePrograms } from './lib/programs.mjs';
import { root, say } from './lib/run.mjs';

const since = performance.now();
try {
  ensurePackages();
  const programs = await ensurePrograms({ told: say });
  const postgres = process.env.DATABASE_URL
    ? { url: process.env.DATABASE_URL, stop() {} }
    : await ensurePostgres('prism');
  const env = {
    ...process.env,
    DATABASE_URL: postgres.url,
    DATA_DIR: process.env.DATA_DIR ?? join(root, '.data'),
    WEB_DIR: join(root, 'web', 'dist'),
    PORT: process.env.PORT ?? '4780',
  };
  const program = (name) => ['--enable-source-maps', join(programs, `${name}.mjs`)];
  ensureBuild();
  const demo = spawnSync(process.execPath, program('makeDemoJob'), { cwd: root, env, stdio: 'inherit' });
  if (demo.status !== 0) throw new Error('The demo job could not be made.');
  const server = spawn(process.execPath, program('server'), { cwd: root, env, stdio: ['inherit', 'pipe', 'inherit'] });
  server.stdout.once('data', () => say(`Started in ${((performance.now() - since) / 1000).toFixed(0)} s.`));
  server.stdout.pipe(process.stdout);
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  server.on('exit', (code) => {
    postgres.stop();
    process.exit(code ?? 0);
  });
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
