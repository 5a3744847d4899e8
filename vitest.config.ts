import { resolve } from 'node:path';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

// One process after the other takes the files of a project, so that modules are read once and not for each file.
const together = { isolate: false, fileParallelism: false };
const globalSetup = ['./server/testing/global.ts'];
export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['core/**/*.test.ts', 'demo/**/*.test.ts'],
          testTimeout: 60_000,
          sequence: { groupOrder: 1 },
          ...together,
        },
      },
      {
        plugins: [vue()],
        resolve: { alias: { '@': resolve(import.meta.dirname, 'web') } },
        test: {
          name: 'web',
          include: ['web/**/*.test.ts'],
          environment: 'jsdom',
          sequence: { groupOrder: 1 },
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts'],
          globalSetup,
          testTimeout: 180_000,
          hookTimeout: 60_000,
          sequence: { groupOrder: 2 },
          ...together,
        },
      },
      {
        test: {
          name: 'browser',
          include: ['e2e/**/*.test.ts'],
          globalSetup,
          testTimeout: 240_000,
          hookTimeout: 90_000,
          sequence: { groupOrder: 3 },
          ...together,
        },
      },
    ],
  },
});
