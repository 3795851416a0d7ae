import type { HeldClaim } from '../claim/claim.ts';
import { heardBy } from '../claim/standing/follow-claim.ts';
import type { Progress } from '../claim/standing/standing.ts';
import { makeWatchers, type Watch, type Watchers } from '../claim/watchers.ts';
import type { HeldEntry, LedgerRecord } from '../record/ledger-record.ts';

/** Tells a claim's progress what was recorded before it was followed, in the order of the ticks. */
export function catchUp(progress: Progress, claim: HeldClaim, record: LedgerRecord): void {
  const events: { readonly entry: HeldEntry; readonly end: boolean; readonly tick: number }[] = [];
  for (const entry of watchersOf(record).past.for(heardBy(claim))) {
    events.push({ entry, end: false, tick: entry.began });
    if (entry.ended !== undefined) events.push({ entry, end: true, tick: entry.ended });
  }
  events.sort((one, other) => one.tick - other.tick);
  for (const { entry, end } of events) progress.take(entry, end);
}

/** Hears from now on of the events that a claim has to do with; what it gives ends that. */
export function listen(claim: HeldClaim, record: LedgerRecord, take: Watch['take']): () => void {
  return watchersOf(record).add({ take }, heardBy(claim));
}

/** Those who wait on a ledger; its record tells them of each event. */
function watchersOf(record: LedgerRecord): Watchers {
  const known = (record.hearing as Watchers | undefined) ?? makeWatchers(record);
  record.hearing = known;
  return known;
}
