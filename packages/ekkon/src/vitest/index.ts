import { test as base, expect, type TestAPI, type TestContext } from 'vitest';
import { saveIfAsked } from '../file/save-if-asked.ts';
import type { Ledger, LedgerOptions } from '../ledger/ledger.ts';
import { closeLedger, openLedger } from '../ledger/open-ledger.ts';
import { closingError } from '../report/claim-error.ts';
import { weighIfAsked } from '../weigh/weigh-if-asked.ts';

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
 * If the environment variable `EKKON_SAVE` names a folder, the ledger of a test that failed is written
 * to it, for `ekkon show`. With `EKKON_WEIGH=1` it is told how much the claims of each test would notice; with
 * `EKKON_WEIGH=80` a test fails if that is less than 80 per cent of the questions.
 *
 * @example
 * import { call, check, gives, never, plan } from 'ekkon';
 * import { test } from 'ekkon/vitest';
 *
 * test('the dome stays shut while it rains', async ({ ledger }) => {
 *   const { dome, weather } = ledger.standIns<Devices>();
 *   plan(call(weather.rain), gives(0.4));
 *   if (weather.rain() === 0) dome.open();
 *   check(never(call(dome.open)));
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
      const verdict = closeLedger(ledger, state !== 'fail' && state !== 'skip', {
        assertions: countAssertions(task),
        reason: task.result?.errors?.[0],
      });
      if (state === 'skip') return;
      if (state === 'fail' || !verdict.holds) {
        const retry = task.result?.retryCount ?? 0;
        await saveIfAsked(ledger, `${task.file.name} ${fullName(task)}`, `${task.id}_${retry}`);
      }
      if (!verdict.holds) throw closingError(verdict);
      if (state !== 'fail') weighIfAsked(ledger);
    });
    await use(ledger);
  },
});

/**
 * How many assertions the runner has counted in a test; `undefined` if that cannot be told, as in one of several
 * that run at a time and count on the common `expect`.
 */
function countAssertions({
  concurrent,
  context,
}: {
  readonly concurrent?: boolean;
  readonly context: TestContext;
}): number | undefined {
  // The test's own `expect` comes into being when it is asked for, and takes over the count then.
  const isAsked = (context as { readonly _local?: boolean })._local === true;
  const local = isAsked ? context.expect.getState().assertionCalls : 0;
  if (concurrent === true) return local > 0 ? local : undefined;
  return expect.getState().assertionCalls + local;
}

interface Named {
  readonly name: string;
  readonly suite?: Named | undefined;
}

/** A test's name with those of the groups it stands in. */
function fullName({ name, suite }: Named): string {
  return suite === undefined ? name : `${fullName(suite)} ${name}`;
}
