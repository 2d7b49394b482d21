// npm test: everything a fresh machine needs, then lint, types, unit tests, build, end-to-end tests; in some minutes.
// The last line reads "N passed, N failed".
import { testRun } from './lib/testRun.mjs';

await testRun('short', async (run) => {
  await run.checks(
    'Lint and types',
    ['Lint', 'npm', ['run', '--silent', 'lint']],
    ['Types', 'npm', ['run', '--silent', 'typecheck']],
  );
  run.unit();
  run.endToEnd();
});
