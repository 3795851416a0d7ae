import { expect, test } from 'vitest';
import { runNeeds } from './needs.ts';

test('what is needed of an environment', async () => {
  const results = await runNeeds();
  console.log(`RESULTS ${JSON.stringify(results)}`);
  expect(Object.keys(results).length).toBeGreaterThan(10);
});
