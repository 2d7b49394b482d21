import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [vue()],
  test: {
    include: ['{core,node,server,web,cli,demo}/src/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 90_000,
    // Two for the two cores that the kernel takes; the third goes on while tests wait for processes that were killed.
    maxWorkers: 3,
    pool: 'forks',
  },
});
