/** End-to-end tests: the built application with its own data folder, in Debian's headless Chromium. */
import { defineConfig } from '@playwright/test';
import { join } from 'node:path';

/** What changes how every new job begins cannot be tested beside others that make jobs. */
const ALONE = 'template.e2e.ts';

const port = Number(process.env.E2E_PORT ?? 4793);

export default defineConfig({
  testDir: 'src',
  testMatch: '*.e2e.ts',
  outputDir: join(import.meta.dirname, '..', 'test-results', 'e2e'),
  // Software rendering and the kernel share two cores: two pages at a time, as each waits for the server now and then, with patience.
  workers: 2,
  projects: [
    { name: 'side by side', testIgnore: ALONE },
    { name: 'alone', testMatch: ALONE, dependencies: ['side by side'] },
  ],
  // `npm test` tells a sample of the stories, `npm run test:long` the others.
  ...(process.env.TESTS === 'long' ? { grep: /@at-length/ } : { grepInvert: /@at-length/ }),
  timeout: 120_000,
  expect: { timeout: 30_000 },
  reporter: [['list'], ['json']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    // Pictures are drawn without a graphics card: a quarter of the pixels.
    deviceScaleFactor: 0.5,
    acceptDownloads: true,
    // What cannot be pressed is said with its name, not by the end of the story's time.
    actionTimeout: 60_000,
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--use-gl=angle',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        // What is not the view is put together without it: half of the time that drawing takes.
        '--disable-gpu-compositing',
      ],
    },
  },
  webServer: {
    command: `node build/programs/serve.mjs ${port}`,
    cwd: join(import.meta.dirname, '..'),
    url: `http://127.0.0.1:${port}/api/jobs`,
    timeout: 120_000,
  },
});
