import { test } from 'ekkon/vitest';
import { describe } from 'vitest';
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
