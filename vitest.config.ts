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
          include: ['core/**/*.test.ts', 'web/**/*.test.ts', 'demo/**/*.test.ts'],
          testTimeout: 60_000,
          sequence: { groupOrder: 1 },
          ...together,
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
