import { defineConfig, mergeConfig } from 'vitest/config';

/** Where the sources are changed line by line, the build is not made anew each time. */
const isFromSources = process.env['FROM_SOURCES'] === 'true';
const { resolve = {} } = isFromSources ? (await import('../../../vitest.config.ts')).default : {};

/** Tests that are run by tests, with the library as it is built: some of them are to fail. */
export default mergeConfig(
  { resolve },
  defineConfig({ test: { include: ['{packages,examples}/**/*.case.ts'], maxConcurrency: 1_000, testTimeout: 120_000 } }),
);
