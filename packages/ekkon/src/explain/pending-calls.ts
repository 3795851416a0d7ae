import type { LedgerRecord } from '../record/ledger-record.ts';
import { entryData } from '../record/recording.ts';
import type { PendingCall } from './rule-finding.ts';

/** The calls whose promises have not settled, in order, and for how long. */
export function pendingCalls({ pending, clock }: LedgerRecord): readonly PendingCall[] {
  const now = clock.now();
  return [...pending].map(([entry, { since, on }]) => ({
    entry: entryData(entry),
    since: now - since,
    stalls: on === 'nothing',
  }));
}
