import { resolve } from 'node:path';
import unocss from '@unocss/vite';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';
import utilities from './uno.config';

/** The web application. `npx vite` serves it against a running server for work on screens. */
export default defineConfig({
  root: 'web',
  // Beside each file as it is, as it is sent to a browser that can unpack it: at the build, not at each answer.
  plugins: [
    vue(),
    unocss({ ...utilities, configFile: false }),
    compression({ algorithms: ['brotliCompress', 'gzip'], include: /\.(html|js|css|svg)$/, threshold: 1024 }),
  ],
  resolve: {
    alias: {
      '@': resolve(import.meta.dirname, 'web'),
      // Messages are ICU and have a compiler of their own, see web/words.ts.
      'vue-i18n': 'vue-i18n/dist/vue-i18n.runtime.esm-bundler.js',
    },
  },
  define: { __VUE_I18N_FULL_INSTALL__: false, __VUE_I18N_LEGACY_API__: false, __INTLIFY_PROD_DEVTOOLS__: false },
  build: { outDir: '../dist/web', emptyOutDir: true, manifest: true, chunkSizeWarningLimit: 1200 },
  server: { proxy: { '/api': 'http://127.0.0.1:8200' } },
});
