// Sums the last lines of several runs of tests; one that ended without such a line counts as failed.
import { readFileSync } from 'node:fs';

let [passed, failed] = [0, 0];
for (const path of process.argv.slice(2)) {
  const last = readFileSync(path, 'utf8').trimEnd().split('\n').at(-1);
  const counts = /^(\d+) passed, (\d+) failed$/.exec(last);
  passed += Number(counts?.[1] ?? 0);
  failed += Number(counts?.[2] ?? 1);
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
