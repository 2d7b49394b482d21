// npm test: everything a fresh machine needs, then lint, types, unit tests, build, end-to-end tests; in some minutes.
// The last line reads "N passed, N failed".
import { testRun } from './lib/testRun.mjs';

await testRun('short', async (run) => {
  // None of them keeps two cores busy.
  await run.checks(
    'Lint, types and build',
    ['Lint', 'npm', ['run', '--silent', 'lint']],
    ['Types', 'npm', ['run', '--silent', 'typecheck']],
    ['Build', 'npm', ['run', '--silent', 'build']],
  );
  run.unit();
  run.endToEnd();
});
