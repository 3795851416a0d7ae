import { call, gives, type Ledger, plan } from 'ekkon';
import { test } from 'ekkon/vitest';
import { expect as common, describe } from 'vitest';
import { cases } from './cases.ts';
import { moreCases } from './more-cases.ts';

for (const { name, rules, hollow, honest } of [...cases, ...moreCases]) {
  describe(name, () => {
    const ruled = test.extend({ ledgerOptions: { rules } });
    ruled('hollow', async ({ ledger }) => {
      await hollow(ledger);
    });
    ruled('honest', async ({ ledger }) => {
      await honest(ledger);
    });
  });
}

/** Under careful, an assertion that the runner counts is enough, by whichever `expect`; in a concurrent test by its own. */
const careful = test.extend({ ledgerOptions: { rules: 'careful' } });

function readRain(ledger: Ledger): number {
  const rain = ledger.callable<() => number>('rain');
  plan(call(rain), gives(0.4));
  return rain();
}

describe('assertions', () => {
  careful('by the common expect', ({ ledger }) => {
    common.assertions(1);
    common(readRain(ledger)).toBe(0.4);
  });
  careful('by the test’s own expect', ({ ledger, expect }) => {
    expect.assertions(1);
    expect(readRain(ledger)).toBe(0.4);
  });
  careful('by none', ({ ledger }) => {
    readRain(ledger);
  });
  describe.concurrent('beside others', () => {
    careful('by the test’s own expect', async ({ ledger, expect }) => {
      expect(readRain(ledger)).toBe(0.4);
    });
    careful('by the common expect, which others count on too', async ({ ledger }) => {
      common(readRain(ledger)).toBe(0.4);
    });
  });
});
