import type { HeldClaim } from '../claim/claim.ts';
import type { Range } from '../claim/multiplicity.ts';
import { countStanding } from '../claim/standing/count-progress.ts';
import { followClaim, heardBy, isOfStream } from '../claim/standing/follow-claim.ts';
import type { Progress, Standing } from '../claim/standing/standing.ts';
import type { Tally } from '../claim/tally.ts';
import { makeWatchers, type Watchers } from '../claim/watchers.ts';
import type { HeldEntry, LedgerRecord } from '../record/ledger-record.ts';

/** How a claim stands now, and word of it when that may have changed. */
export interface Attention {
  readonly standing: Standing;
  /** Whether it has to be told of every event in order to know. */
  readonly needsEvents: boolean;
  /** Calls back when the claim may stand otherwise than before; what it gives ends that. */
  listen(run: () => void): () => void;
}

/**
 * Attends to a claim while the record grows. Counts of one pattern are counted once for all claims on them;
 * any other claim follows the events by itself.
 *
 * @param holdsNow judges the claim on the whole record, for claims that are not followed event by event
 */
export function attend(claim: HeldClaim, record: LedgerRecord, holdsNow: () => boolean): Attention {
  const watchers = watchersOf(record);
  if (claim.claim === 'count' && claim.held.of !== 'unfinished' && !isOfStream(claim.held))
    return attendCount(watchers.tallyOf(claim.held), claim.range);
  const progress = followClaim(claim, holdsNow);
  const heard = heardBy(claim);
  catchUp(progress, watchers.past.for(heard));
  return {
    get standing() {
      return progress.standing;
    },
    needsEvents: true,
    listen: (run) =>
      watchers.add(
        {
          take(entry, end) {
            progress.take(entry, end);
            run();
          },
        },
        heard,
      ),
  };
}

function attendCount(tally: Tally, range: Range): Attention {
  return {
    get standing() {
      return countStanding(range, tally);
    },
    needsEvents: false,
    listen: (run) => tally.at([range.least, range.most + 1], run),
  };
}

/** Tells a claim's progress what was recorded before it was followed, in the order of the ticks. */
function catchUp(progress: Progress, entries: readonly HeldEntry[]): void {
  const events: { readonly entry: HeldEntry; readonly end: boolean; readonly tick: number }[] = [];
  for (const entry of entries) {
    events.push({ entry, end: false, tick: entry.began });
    if (entry.ended !== undefined) events.push({ entry, end: true, tick: entry.ended });
  }
  events.sort((one, other) => one.tick - other.tick);
  for (const { entry, end } of events) progress.take(entry, end);
}

/** Those who wait on a ledger; its record tells them of each event. */
function watchersOf(record: LedgerRecord): Watchers {
  const known = (record.hearing as Watchers | undefined) ?? makeWatchers(record);
  record.hearing = known;
  return known;
}
