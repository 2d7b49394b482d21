import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

/** What these put in the place of a module would be there for others too. */
const MOCKING = ['web/src/api/upload', 'web/src/stores/{exact,job,receiving,trying}', 'node/src/blobFolder'].map(
  (path) => `${path}.test.ts`,
);
const AROUND = ['{node,server,cli,demo}/src/**/*.test.ts'];

/** What is run once or twice gains nothing from the optimizing compilers, and little from being collected while the tests go on beside it. */
const FOR_SHORT_TESTS = [
  '--wasm-tiering-budget=20000000',
  '--interrupt-budget=400000',
  '--max-semi-space-size=64',
  '--single-threaded-gc',
];

export default defineConfig({
  plugins: [vue()],
  test: {
    globalSetup: ['scripts/lib/bundlesForTests.mjs'],
    testTimeout: 60_000,
    hookTimeout: 90_000,
    // Two for the two cores that the kernel takes; the third goes on while tests wait for processes that were killed.
    maxWorkers: 3,
    execArgv: process.env.TESTS === 'long' ? [] : FOR_SHORT_TESTS,
    pool: 'forks',
    projects: [
      // Tests keep nothing for each other: they share processes, which saves loading what they are made of a hundred times.
      { extends: true, test: { name: 'core', include: ['core/src/**/*.test.ts'], isolate: false } },
      { extends: true, test: { name: 'scripts', include: ['scripts/lib/*.test.mjs'], isolate: false } },
      { extends: true, test: { name: 'web', include: ['web/src/**/*.test.ts'], exclude: MOCKING, isolate: false } },
      { extends: true, test: { name: 'around', include: AROUND, exclude: MOCKING, isolate: false } },
      { extends: true, test: { name: 'mocking', include: MOCKING } },
    ],
  },
});
