// What came of a run, from the reports of both runners: what was skipped, or was kept from running by what failed before it, counts as failed.

/** Above what did not pass, at the end of a run. */
export const NOT_PASSED = '— What did not pass';

/**
 * @param report JSON of vitest
 * @param only of a run by name, what the names of its tests match: the others were not meant
 * @returns what passed, and in words each that did not
 */
export function ofVitest({ testResults }, only) {
  let passed = 0;
  const failures = [];
  for (const { name: file, status, message, assertionResults } of testResults) {
    const own = assertionResults.filter(({ fullName }) => !only || only.test(fullName));
    for (const { fullName, status: became, failureMessages } of own) {
      if (became === 'passed') passed++;
      else failures.push(inWords(file, fullName, became, failureMessages?.[0]));
    }
    // A file that cannot be loaded has no tests.
    if (status === 'failed' && !own.some(({ status: became }) => became !== 'passed'))
      failures.push(inWords(file, 'the file as a whole', status, message));
  }
  return { passed, failures };
}

/**
 * @param report JSON of Playwright
 * @returns what passed, and in words each that did not
 */
export function ofPlaywright({ suites, errors = [] }) {
  let passed = 0;
  const failures = errors.map(({ message }) => inWords('', 'outside of all stories', 'failed', message));
  const into = ({ file, specs = [], suites: inner = [] }) => {
    for (const { title, tests } of specs)
      for (const { status, results } of tests) {
        if (status === 'expected') passed++;
        else failures.push(inWords(file, title, status, saidBy(results)));
      }
    inner.forEach(into);
  };
  suites.forEach(into);
  return { passed, failures };
}

/** All that went wrong, with the line: that the time was over says nothing without what was waited for. */
function saidBy(results) {
  const { errors = [] } = results.find(({ errors: some }) => some?.length) ?? {};
  return errors.map(({ message, location }) => message + (location ? `\nat line ${location.line}` : '')).join('\n');
}

function inWords(file, name, became, message) {
  // Colours of the runner are for a terminal.
  const said = (message ?? '').replace(/\x1b\[[\d;]*m/g, '').split('\n');
  return [`${[file, name].filter(Boolean).join(' › ')}: ${became}`, ...said.filter(Boolean).slice(0, 24)].join(
    '\n    ',
  );
}
