import { defineConfig } from 'vitest/config';

/** Core and server are read from source, so that a test run needs no build. */
const conditions = ['source', 'node', 'import', 'default'];
const project = (name: string, more: object = {}) => ({
  ssr: { resolve: { conditions } },
  resolve: { conditions },
  test: { name, include: [`${name}/src/**/*.test.{ts,tsx}`], testTimeout: 60_000, hookTimeout: 120_000, ...more },
});

export default defineConfig({
  test: {
    projects: [
      project('core'),
      project('server', { globalSetup: ['server/src/testing/database.setup.ts'], fileParallelism: false }),
      project('school'),
      project('web', { environment: 'jsdom' }),
    ],
  },
});
