import { defineConfig } from 'vitest/config';

/** What mutants are tried on: the tests that need neither a database nor a browser. */
export default defineConfig({ test: { include: ['core/**/*.test.ts'], testTimeout: 60_000 } });
