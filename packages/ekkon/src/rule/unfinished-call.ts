import type { HeldClaim } from '../claim/claim.ts';
import { callsOf } from '../claim/event.ts';
import { entryFit } from '../claim/pattern.ts';
import { wantedUnfinished } from '../explain/accounted.ts';
import { pendingCalls } from '../explain/pending-calls.ts';
import type { HeldEntry, LedgerRecord, Level } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { type Broken, brokenTogether, noteAtMost } from './broken.ts';

/**
 * Calls whose promises never settled: not those that will in a moment, that were planned to stall, or that
 * a claim called unfinished. What a real member leaves pending is noted at most.
 */
export function unfinishedCalls(record: LedgerRecord): readonly Broken[] {
  if (record.pending.size === 0) return [];
  const expected = record.judged.flatMap(({ claim }) => wantedUnfinished(claim as HeldClaim));
  const isExpected = (entry: HeldEntry) =>
    expected.some((event) => entryFit(callsOf(event), entry) === 'fits');
  const levels = new Map<number, Level>();
  for (const [entry, { on }] of record.pending) {
    if (on === 'moment' || on === 'nothing' || isExpected(entry)) continue;
    const { unfinishedCall } = rulesOf(record, entry.label);
    levels.set(entry.id, on === 'real' ? noteAtMost(unfinishedCall) : unfinishedCall);
  }
  return brokenTogether(
    pendingCalls(record),
    ({ entry }) => levels.get(entry.id) ?? 'allow',
    (pending) => ({
      code: 'unfinishedCall',
      claim: 'rule unfinishedCall',
      culprits: pending.map(({ entry }) => entry.id),
      at: pending[0]?.entry.site,
      pending,
    }),
  );
}
