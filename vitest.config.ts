import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [vue()],
  test: {
    include: ['{core,node,server,web,cli,demo}/src/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 90_000,
    // The kernel takes a core for itself; more files at once would only wait for each other.
    maxWorkers: 2,
    pool: 'forks',
  },
});
