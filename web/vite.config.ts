import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwind()],
  resolve: { conditions: ['jotmark-source', ...defaultClientConditions] },
  build: {
    target: 'es2023',
    assetsInlineLimit: 0,
    sourcemap: true,
    rolldownOptions: {
      output: {
        // Twenty parts of a kilobyte travel worse than one: what every view is made of is one part, what shows pages another.
        codeSplitting: {
          groups: [
            { name: 'frame', test: /web\/src\/(api|ask|look|frame|time|live|outbox|conversation)\// },
            { name: 'page', test: /web\/src\/(paper|marks|margin|fields|hand)\// },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4270' } },
});
