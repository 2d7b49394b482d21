// npm run test:long: what npm test takes a sample of, and what is large: the rest of the unit tests and of the stories in the browser.
// The last line reads "N passed, N failed".
import { testRun } from './lib/testRun.mjs';

await testRun('long', (run) => {
  run.unit({ only: ', at length$' });
  run.endToEnd();
});
