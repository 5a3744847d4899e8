import { defineConfig } from 'vite';

/** The server's programs, bundled from TypeScript; packages stay outside the bundle. */
export default defineConfig({
  build: {
    ssr: true,
    outDir: 'dist/server',
    target: 'node20',
    minify: false,
    sourcemap: true,
    emptyOutDir: true,
    rollupOptions: {
      input: {
        main: 'server/main.ts',
        launch: 'server/local/launch.ts',
        cli: 'server/cli/main.ts',
        'jobs-thread': 'server/jobs/thread.ts',
        'intake-thread': 'server/intake/thread.ts',
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'parts/[name]-[hash].js' },
    },
  },
});
