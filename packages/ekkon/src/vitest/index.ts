import { test as base, type TestAPI } from 'vitest';
import type { Ledger, LedgerOptions } from '../double/ledger.ts';
import { closeLedger, openLedger } from '../double/open-ledger.ts';
import { keepWhereAsked } from '../file/keep-ledger.ts';
import { closingError } from '../report/claim-error.ts';

/** What the fixture adds to a test's context. */
export interface LedgerFixtures {
  /** The test's own ledger. */
  readonly ledger: Ledger;
  /** How it is opened. Default: by the usual rules, named after the test. */
  readonly ledgerOptions: LedgerOptions;
}

/**
 * Vitest's `test` with a ledger for each test: named after it, opened when the test asks for it, closed
 * when it ends. What closing finds fails the test; an error of the test's own is shown before that, and
 * then only what could explain it. Each retry has a ledger of its own.
 *
 * Where the environment variable `EKKON_KEEP` names a folder, the ledger of a test that failed is written
 * to it, for `ekkon show`.
 *
 * @example
 * import { test } from 'ekkon/vitest';
 *
 * test('the dome stays shut while it rains', async ({ ledger }) => {
 *   const { dome, weather } = ledger.standIns<Devices>();
 *   …
 * });
 *
 * const strictly = test.extend({ ledgerOptions: { rules: 'strict' } });
 */
export const test: TestAPI<LedgerFixtures> = base.extend<LedgerFixtures>({
  ledgerOptions: {},
  ledger: async ({ task, ledgerOptions, onTestFinished }, use) => {
    const ledger = openLedger({ name: task.name, ...ledgerOptions });
    // What a fixture throws when it is taken down is reported twice; what is thrown here is not.
    onTestFinished(async () => {
      const state = task.result?.state;
      const verdict = closeLedger(ledger, state === 'fail' || state === 'skip');
      if (state === 'skip') return;
      if (state === 'fail' || !verdict.holds) {
        const retry = task.result?.retryCount ?? 0;
        await keepWhereAsked(ledger, `${task.file.name} ${fullName(task)}`, `${task.id}_${retry}`);
      }
      if (!verdict.holds) throw closingError(verdict);
    });
    await use(ledger);
  },
});

interface Named {
  readonly name: string;
  readonly suite?: Named | undefined;
}

/** A test's name with those of the groups it stands in. */
function fullName({ name, suite }: Named): string {
  return suite === undefined ? name : `${fullName(suite)} ${name}`;
}
