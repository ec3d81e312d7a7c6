import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwind()],
  resolve: { conditions: ['jotmark-source', ...defaultClientConditions] },
  build: { target: 'es2023', assetsInlineLimit: 0, sourcemap: true },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4270' } },
});
