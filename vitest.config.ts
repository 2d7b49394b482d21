import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

/** What these put in the place of a module would be there for others too. */
const MOCKING = ['web/src/api/upload', 'web/src/stores/{exact,job,receiving,trying}', 'node/src/blobFolder'].map(
  (path) => `${path}.test.ts`,
);
const NODE = ['{core,node,server,cli,demo}/src/**/*.test.ts', 'scripts/lib/*.test.mjs'];
/** What needs a page: components, and what listens to one. */
const PAGE = [
  'web/src/**/*.vue',
  'web/src/{bench/{columnWidths,sheets,shortcuts},parts/sheetFocus,stores/{comesBack,unreachable}}',
].map((path) => `${path}.test.ts`);
const WEB = ['web/src/**/*.test.ts'];

export default defineConfig({
  plugins: [vue()],
  test: {
    globalSetup: ['scripts/lib/bundlesForTests.mjs'],
    testTimeout: 60_000,
    hookTimeout: 90_000,
    // Two for the two cores that the kernel takes; the third goes on while tests wait for processes that were killed.
    maxWorkers: 3,
    // Threads: what the compiler of the kernel has made for one is there for the others.
    pool: 'threads',
    projects: [
      // Tests keep nothing for each other: they share processes, which saves loading what they are made of a hundred times.
      { extends: true, test: { name: 'node', include: NODE, exclude: MOCKING, isolate: false } },
      { extends: true, test: { name: 'page', include: PAGE, environment: 'happy-dom', isolate: false } },
      { extends: true, test: { name: 'web', include: WEB, exclude: [...MOCKING, ...PAGE], isolate: false } },
      { extends: true, test: { name: 'mocking', include: MOCKING } },
    ],
  },
});
