// Sums the last lines of several runs of tests, and tells once more what did not pass: a log is read from its end.
// A run that ended without such a line counts as failed.
import { readFileSync } from 'node:fs';
import { NOT_PASSED } from './lib/testCounts.mjs';

let [passed, failed] = [0, 0];
for (const path of process.argv.slice(2)) {
  const lines = readFileSync(path, 'utf8').trimEnd().split('\n');
  const counts = /^(\d+) passed, (\d+) failed$/.exec(lines.at(-1));
  passed += Number(counts?.[1] ?? 0);
  failed += Number(counts?.[2] ?? 1);
  const from = counts ? lines.lastIndexOf(NOT_PASSED) : lines.length - 20;
  if (from >= 0) console.log(`${path}\n${lines.slice(from).join('\n')}\n`);
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
