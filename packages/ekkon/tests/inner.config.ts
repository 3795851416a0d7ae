import { mergeConfig } from 'vitest/config';
import outer from '../../../vitest.config.ts';

/** Tests that are run by tests: some of them are to fail. */
export default mergeConfig(
  { ...outer, test: {} },
  { test: { include: ['{packages,examples}/**/*.case.ts'], maxConcurrency: 1_000, testTimeout: 120_000 } },
);
