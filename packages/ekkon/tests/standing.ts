import { ClaimError, call, check, never, once, openLedger, partial } from 'ekkon';

/** How a claim on one recorded value stands. */
export type Standing = 'holds' | 'fails' | 'undecided';

/** Records one value, and gives ways to claim it. */
export function recording(value: unknown) {
  const ledger = openLedger({ name: 'clients', rules: 'loose' });
  const store = ledger.callable<(value: unknown) => void>('store');
  store(value);
  const judge = (claim: () => void): Standing => {
    try {
      claim();
      return 'holds';
    } catch (error) {
      if (!(error instanceof ClaimError)) throw error;
      const codes = error.verdict.findings.map(({ code }) => code);
      return codes.every((code) => code === 'undecidedCall') ? 'undecided' : 'fails';
    }
  };
  return {
    ledger,
    store,
    /** How it stands that the value is as claimed. */
    is: (claimed: unknown) => judge(() => check(once(call(store, [claimed])))),
    /** How it stands that it is not. */
    isNot: (claimed: unknown) => judge(() => check(never(call(store, [claimed])))),
    /** How it stands that it has these properties. */
    has: (part: object) => judge(() => check(once(call(store, [partial(part)])))),
    /** The first line of the report if it is claimed. */
    firstLine(claimed: unknown): string {
      try {
        check(once(call(store, [claimed])));
        return 'it holds';
      } catch (error) {
        return String((error as Error).message.split('\n')[0]);
      }
    },
  };
}
