import { entryData } from '../record/entry-data.ts';
import type { Journal } from '../record/journal.ts';
import type { PendingCall } from './rule-finding.ts';

/** The calls whose promises have not settled, in order, and for how long. */
export function pendingCalls({ pending, clock }: Journal): readonly PendingCall[] {
  const now = clock.now();
  return [...pending].map(([entry, { since, until = now, on }]) => ({
    entry: entryData(entry),
    since: until - since,
    stalls: on === 'nothing',
  }));
}
