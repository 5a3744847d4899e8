import { defineConfig } from 'vitest/config';

const dataHooks = ['./server/testing/global.ts'];
export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['core/**/*.test.ts', 'web/**/*.test.ts', 'demo/**/*.test.ts'],
          testTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts'],
          globalSetup: dataHooks,
          testTimeout: 180_000,
          hookTimeout: 60_000,
          fileParallelism: false,
        },
      },
      {
        test: {
          name: 'browser',
          include: ['e2e/**/*.test.ts'],
          globalSetup: dataHooks,
          testTimeout: 240_000,
          hookTimeout: 90_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
