import { test as base, type TestAPI } from 'vitest';
import type { Ledger } from '../double/ledger.ts';
import { openLedger } from '../double/open-ledger.ts';

/**
 * Vitest's `test` with a ledger for each test: named after it, opened when the test asks for it, closed
 * when it ends. What closing finds fails the test; an error of the test's own is shown before that.
 *
 * @example
 * import { test } from 'ekkon/vitest';
 *
 * test('the dome stays shut while it rains', async ({ ledger }) => {
 *   const { dome, weather } = ledger.standIns<Devices>();
 *   …
 * });
 */
export const test: TestAPI<{ ledger: Ledger }> = base.extend<{
  ledger: Ledger;
}>({
  ledger: async ({ task }, use) => {
    const ledger = openLedger({ name: task.name });
    await use(ledger);
    ledger.close();
  },
});
