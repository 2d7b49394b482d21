// npm test: everything a fresh machine needs, then lint, types, unit tests, build, end-to-end tests.
// The last line reads "N passed, N failed".
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { ensureChromium } from './lib/chromium.mjs';
import { ensureModels } from './lib/models.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensurePostgres } from './lib/postgres.mjs';
import { root } from './lib/run.mjs';

let passed = 0;
let failed = 0;

function stage(title, command, args, env = {}) {
  console.log(`\n— ${title}`);
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  return status === 0;
}

/** Stages that count as one check each; they run side by side, and say what they have to say when they are done. */
async function checks(...each) {
  await Promise.all(
    each.map(async ([title, command, args]) => {
      const words = [];
      const child = spawn(command, args, { cwd: root });
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => words.push(data));
      const code = await new Promise((done) => child.on('error', () => done(1)).on('close', done));
      console.log(`\n— ${title}\n${Buffer.concat(words)}`);
      if (code === 0) passed++;
      else failed++;
    }),
  );
}

/** A stage that reports its own tests in a JSON file. */
function suite(title, command, args, report, count, env) {
  rmSync(report, { force: true });
  const ok = stage(title, command, args, env);
  if (!existsSync(report)) {
    failed++;
    return;
  }
  const result = count(JSON.parse(readFileSync(report, 'utf8')));
  passed += result.passed;
  failed += result.failed;
  if (!ok && result.failed === 0) failed++;
}

try {
  ensurePackages();
  const chromium = ensureChromium();
  const models = ensureModels();
  const postgres = await ensurePostgres('prism_test', { fresh: true });
  const results = join(root, 'test-results');
  mkdirSync(results, { recursive: true });
  const env = { CHROMIUM: chromium, MODELS: models, DATABASE_URL: postgres.url };
  try {
    await checks(['Lint', 'npm', ['run', '--silent', 'lint']], ['Types', 'npm', ['run', '--silent', 'typecheck']]);
    const unit = join(results, 'unit.json');
    suite(
      'Unit tests',
      'npx',
      ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${unit}`],
      unit,
      (report) => ({ passed: report.numPassedTests, failed: report.numFailedTests }),
      env,
    );
    console.log('\n— Build');
    ensureBuild();
    const e2e = join(results, 'e2e.json');
    suite(
      'End-to-end tests',
      'npx',
      ['playwright', 'test', '--config', 'e2e/playwright.config.ts'],
      e2e,
      ({ stats }) => ({ passed: stats.expected, failed: stats.unexpected + stats.flaky }),
      { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: e2e },
    );
  } finally {
    postgres.stop();
  }
} catch (error) {
  console.error(error.message);
  failed++;
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
