import { fileURLToPath } from 'node:url';
import { defaultClientConditions, defineConfig } from 'vite';

const here = (file: string) => fileURLToPath(new URL(file, import.meta.url));

export default defineConfig({
  root: here('.'),
  // From source, as in the app.
  resolve: { conditions: ['jotmark-source', ...defaultClientConditions] },
  build: {
    outDir: here('../../.test/bench-bare'),
    emptyOutDir: true,
    target: 'es2023',
    assetsInlineLimit: 0,
    rolldownOptions: { input: [here('bare-stroke.html'), here('bare-pages.html'), here('bare-voice.html')] },
  },
  worker: { format: 'es' },
});
