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
    testTimeout: 60_000,
    hookTimeout: 120_000,
    ...more,
  },
});

export default defineConfig({
  test: {
    projects: [
      project('core'),
      project('server', { globalSetup: ['scripts/test-database.mjs'],}),
      project('school', { globalSetup: ['scripts/test-database.mjs'] }),
      project('web', { environment: 'jsdom' }, [addresses]),
    ],
  },
});
