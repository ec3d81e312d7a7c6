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
        // Twenty parts of a kilobyte travel worse than one: what every view is made of is one part, what shows pages another. Not in
        // them is what only some views use and what brings a library along.
        codeSplitting: {
          groups: [
            {
              name: 'frame',
              test: /web\/src\/(api|ask|look|frame|time|live|outbox|conversation)\/(?!fields|Tips|useRowsInSight|DialogShell)/,
            },
            { name: 'page', test: /web\/src\/(paper|marks|margin|fields|hand)\/(?!MarkList)/ },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4270' } },
});
