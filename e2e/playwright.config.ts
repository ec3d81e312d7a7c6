import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './set-up.ts',
  outputDir: '../.test/e2e-results',
  // A busy machine is no fault: only what hangs ends by these.
  timeout: 480_000,
  expect: { timeout: 60_000 },
  workers: 2,
  retries: 0,
  forbidOnly: Boolean(process.env.CI),
  reporter: 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    // A trace of every step is half the work of a story: `JOTMARK_TRACE=1` keeps those of the stories that fail.
    trace: process.env.JOTMARK_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
