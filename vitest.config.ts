import { defaultServerConditions, type Plugin } from 'vite';
import { defineConfig } from 'vitest/config';
import { addresses } from './web/addresses-plugin.ts';

/** Core and server are read from source, so that a test run needs no build. */
const conditions = ['jotmark-source', ...defaultServerConditions];
const project = (name: string, more: object = {}, plugins: Plugin[] = []) => ({
  plugins,
  ssr: { resolve: { conditions } },
  resolve: { conditions },
  test: {
    name,
    include: [`${name}/src/**/*.test.{ts,tsx}`],
    // A busy machine is no fault: only what hangs ends by these.
    testTimeout: 240_000,
    hookTimeout: 240_000,
    ...more,
  },
});

export default defineConfig({
  test: {
    projects: [
      project('core'),
      project('server', { globalSetup: ['scripts/test-database.mjs'], fileParallelism: false }),
      project('school', { globalSetup: ['scripts/test-database.mjs'] }),
      project('web', { environment: 'jsdom', setupFiles: ['web/patient.ts'] }, [addresses]),
    ],
  },
});
