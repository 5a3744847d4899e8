import { resolve } from 'node:path';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

/** The web application. `npx vite` serves it against a running server for work on screens. */
export default defineConfig({
  root: 'web',
  plugins: [vue()],
  resolve: { alias: { '@': resolve(import.meta.dirname, 'web') } },
  build: { outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 1200 },
  server: { proxy: { '/api': 'http://127.0.0.1:8200' } },
});
