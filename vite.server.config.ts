import { defineConfig } from 'vite';

const programs = {
  main: 'server/main.ts',
  launch: 'server/local/launch.ts',
  cli: 'server/cli/main.ts',
  admin: 'server/admin/main.ts',
  backup: 'server/backup/main.ts',
  'jobs-thread': 'server/jobs/thread.ts',
  'printing-thread': 'server/jobs/printing-thread.ts',
  'intake-thread': 'server/intake/thread.ts',
  'papers-thread': 'server/papers/thread.ts',
  'figures-thread': 'server/figures/thread.ts',
};

/**
 * The server's programs, bundled from TypeScript; packages stay outside the bundle. `--mode bench`: the bench, built
 * alike, since code run from its source carries helpers that no user ever runs.
 */
export default defineConfig(({ mode }) => ({
  build: {
    ssr: true,
    outDir: mode === 'bench' ? 'dist/bench' : 'dist/server',
    target: 'node20',
    minify: false,
    sourcemap: true,
    emptyOutDir: true,
    rollupOptions: {
      input: mode === 'bench' ? { main: 'bench/main.ts' } : programs,
      output: { entryFileNames: '[name].js', chunkFileNames: 'parts/[name]-[hash].js' },
    },
  },
}));
