import { type Claim, call, never, once, openLedger, partial } from 'ekkon';
import { failureOf, firstLine } from './failure.ts';

/** How a claim on one recorded value stands. */
export type Standing = 'holds' | 'fails' | 'undecided';

/** Records one value, and gives ways to claim it. */
export function recording(value: unknown) {
  const ledger = openLedger({ name: 'clients', rules: 'loose' });
  const store = ledger.callable<(value: unknown) => void>('store');
  store(value);
  const judge = (claim: Claim): Standing => {
    const codes = failureOf(claim)?.verdict.findings.map(({ code }) => code);
    return codes === undefined ? 'holds' : codes.every((code) => code === 'undecidedCall') ? 'undecided' : 'fails';
  };
  return {
    ledger,
    store,
    /** How it stands that the value is as claimed. */
    is: (claimed: unknown) => judge(once(call(store, [claimed]))),
    /** How it stands that it is not. */
    isNot: (claimed: unknown) => judge(never(call(store, [claimed]))),
    /** How it stands that it has these properties. */
    has: (part: object) => judge(once(call(store, [partial(part)]))),
    /** The first line of the report if it is claimed. */
    firstLine: (claimed: unknown) => firstLine(once(call(store, [claimed]))),
  };
}
