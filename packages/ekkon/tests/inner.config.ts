import { defineConfig } from 'vitest/config';

/** Tests that are run by tests, with the library as it is built: some of them are to fail. */
export default defineConfig({
  test: { include: ['{packages,examples}/**/*.case.ts'], maxConcurrency: 1_000, testTimeout: 120_000 },
});
