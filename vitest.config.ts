import { resolve } from 'node:path';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

// One process after the other takes the files of a project, so that modules are read once and not for each file.
const together = { isolate: false, fileParallelism: false };
// Ends what hangs; no test is to fail because the machine has other work.
const patient = { testTimeout: 900_000, hookTimeout: 300_000 };
const setupFiles = ['./core/messages/expect.ts'];
const globalSetup = ['./server/testing/global.ts'];
export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['core/**/*.test.ts', 'demo/**/*.test.ts'],
          setupFiles,
          sequence: { groupOrder: 1 },
          ...together,
          ...patient,
        },
      },
      {
        plugins: [vue()],
        resolve: { alias: { '@': resolve(import.meta.dirname, 'web') } },
        test: {
          name: 'web',
          include: ['web/**/*.test.ts'],
          environment: 'jsdom',
          setupFiles: ['./web/testing.ts'],
          ...patient,
          sequence: { groupOrder: 1 },
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts'],
          setupFiles,
          globalSetup,
          sequence: { groupOrder: 2 },
          ...together,
          ...patient,
        },
      },
      {
        test: {
          name: 'browser',
          include: ['e2e/*.test.ts'],
          globalSetup,
          sequence: { groupOrder: 3 },
          ...together,
          ...patient,
        },
      },
      {
        test: {
          name: 'places',
          include: ['e2e/places/*.test.ts'],
          globalSetup,
          sequence: { groupOrder: 3 },
          ...together,
          ...patient,
        },
      },
      {
        test: {
          name: 'cluster',
          include: ['cluster/**/*.test.ts'],
          sequence: { groupOrder: 4 },
          ...together,
          ...patient,
        },
      },
      {
        test: {
          name: 'production',
          include: ['production/**/*.test.ts'],
          sequence: { groupOrder: 5 },
          ...together,
          ...patient,
        },
      },
    ],
  },
});
