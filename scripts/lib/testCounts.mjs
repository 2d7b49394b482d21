// What came of a run, from the reports of both runners: what was skipped, or was kept from running by what failed before it, counts as failed.

/**
 * @param report JSON of vitest
 * @param only of a run by name, what the names of its tests match: the others were not meant
 */
export function ofVitest({ testResults }, only) {
  let [passed, failed] = [0, 0];
  for (const { status, assertionResults } of testResults) {
    const own = assertionResults.filter(({ fullName }) => !only || only.test(fullName));
    for (const { status: became } of own) {
      if (became === 'passed') passed++;
      else failed++;
    }
    // A file that cannot be loaded has no tests.
    if (status === 'failed' && !own.some(({ status: became }) => became !== 'passed')) failed++;
  }
  return { passed, failed };
}

/** @param report JSON of Playwright */
export function ofPlaywright({ stats, errors = [] }) {
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky + stats.skipped + errors.length };
}
