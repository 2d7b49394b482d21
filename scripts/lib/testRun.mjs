// A run of tests of one size: what a fresh machine needs, stages one after the other, and what came of them in one line.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './build.mjs';
import { ensureChromium } from './chromium.mjs';
import { ensurePackages } from './packages.mjs';
import { ensurePostgres } from './postgres.mjs';
import { ensurePrograms } from './programs.mjs';
import { root, say } from './run.mjs';
import { NOT_PASSED, ofPlaywright, ofVitest } from './testCounts.mjs';

/**
 * Flags of Node. What is run once or twice gains nothing from the optimizing compilers, and little from being collected while the tests
 * go on beside it: a sixth of the time.
 */
const FOR_SHORT_TESTS = [
  '--wasm-tiering-budget=20000000',
  '--interrupt-budget=400000',
  '--max-semi-space-size=64',
  '--single-threaded-gc',
];

export class TestRun {
  passed = 0;
  /** In words, each that did not pass. */
  failures = [];
  #since = performance.now();
  #postgres;

  /** @param size `short` or `long` */
  constructor(size) {
    this.size = size;
    this.results = join(root, 'test-results', size);
  }

  async prepare() {
    // Packages of Debian and of npm come from different places, and are unpacked side by side.
    const unpacking = inTheMeantime('models.mjs');
    ensurePackages();
    const models = await unpacking;
    const chromium = ensureChromium();
    this.#postgres = await ensurePostgres('prism_test', { fresh: true });
    await ensurePrograms({ told: say });
    mkdirSync(this.results, { recursive: true });
    this.env = {
      ...process.env,
      CHROMIUM: chromium,
      MODELS: models,
      DATABASE_URL: this.#postgres.url,
      TESTS: this.size,
    };
    this.#ended('Packages and models');
  }

  /** Stages that count as one check each; they run side by side, and say what they have to say when they are done. */
  async checks(title, ...each) {
    await Promise.all(
      each.map(async ([name, command, args]) => {
        const words = [];
        const child = spawn(command, args, { cwd: root });
        for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => words.push(data));
        const code = await new Promise((done) => child.on('error', () => done(1)).on('close', done));
        say(`\n— ${name}\n${Buffer.concat(words)}`);
        if (code === 0) this.passed++;
        else this.failures.push(`${name}: ended with ${code}\n${Buffer.concat(words)}`);
      }),
    );
    this.#ended(title);
  }

  /** Unit tests of this size. @param only of the long run, the names that are its own */
  unit({ only } = {}) {
    const report = join(this.results, 'unit.json');
    const flags = this.size === 'short' ? FOR_SHORT_TESTS : [];
    const args = [
      ...flags,
      'node_modules/vitest/vitest.mjs',
      'run',
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ];
    if (only) args.push('--testNamePattern', only, ...filesAtLength());
    this.#suite('Unit tests', process.execPath, args, report, (result) => ofVitest(result, only && new RegExp(only)));
  }

  /** Stories in the browser of this size. */
  endToEnd() {
    say('\n— Build');
    ensureBuild();
    this.#ended('Build');
    const report = join(this.results, 'e2e.json');
    const args = ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts'];
    this.#suite('End-to-end tests', process.execPath, args, report, ofPlaywright, {
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
  }

  /** A stage that reports its own tests in a JSON file. */
  #suite(title, command, args, report, count, env = {}) {
    say(`\n— ${title}`);
    rmSync(report, { force: true });
    const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...this.env, ...env } });
    const { passed, failures } = existsSync(report)
      ? count(JSON.parse(readFileSync(report, 'utf8')))
      : { passed: 0, failures: [] };
    if (status !== 0 && failures.length === 0) failures.push(`${title}: ended with ${status}`);
    this.passed += passed;
    this.failures.push(...failures);
    this.#ended(title);
  }

  #ended(title) {
    const now = performance.now();
    say(`${title}: ${Math.round((now - this.#since) / 1000)} s`);
    this.#since = now;
  }

  stop() {
    this.#postgres?.stop();
  }
}

/** Runs the stages, whatever becomes of each; what did not pass is told once more at the end, and the last line says what passed and what did not. Skipped counts as failed. */
export async function testRun(size, stages) {
  const run = new TestRun(size);
  try {
    await run.prepare();
    await stages(run);
  } catch (error) {
    console.error(error.message);
    run.failures.push(error.message);
  } finally {
    run.stop();
  }
  const failed = run.failures.length;
  if (failed > 0) say(`\n${NOT_PASSED}\n${run.failures.join('\n')}`);
  say(`\n${run.passed} passed, ${failed} failed`);
  process.exit(failed > 0 ? 1 : 0);
}

/** Runs a script beside this one. @returns the last line that it says */
async function inTheMeantime(script) {
  const child = spawn(process.execPath, [join(root, 'scripts', script)], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let said = '';
  child.stdout.on('data', (data) => (said += data));
  const code = await new Promise((done) => child.on('error', () => done(1)).on('close', done));
  const lines = said.trimEnd().split('\n');
  const last = lines.pop();
  lines.forEach((line) => say(line));
  if (code !== 0) throw new Error(`${script} ended with ${code}`);
  return last;
}

/** Files of unit tests that have something of the long run: the others need not be loaded for it. */
function filesAtLength() {
  const { stdout } = spawnSync('git', ['grep', '-l', '--untracked', 'testing/atLength', '--', '*.test.ts'], {
    cwd: root,
    encoding: 'utf8',
  });
  return stdout.trim().split('\n');
}
