import { expect, test } from 'vitest';
import { runSuite } from './suite.js';

test('modules', async () => {
  console.log(`RESULTS ${JSON.stringify(await runSuite())}`);
  expect(true).toBe(true);
});
