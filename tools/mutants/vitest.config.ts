import { defineConfig } from 'vitest/config';

/** What mutants are tried on: for those of core/ all tests of core/, for those of a room of server/ the room's own. */
const tests = process.env.MUTANTS_TESTS ?? 'core';
export default defineConfig({
  test: {
    // Each of those who try at the same time has a database of its own.
    name: `mutants-${process.env.STRYKER_MUTATOR_WORKER ?? 0}`,
    include: [`${tests}/**/*.test.ts`],
    globalSetup: tests === 'core' ? [] : ['./server/testing/global.ts'],
    testTimeout: 180_000,
    hookTimeout: 60_000,
  },
});
