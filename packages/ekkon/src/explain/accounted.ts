import { type HeldClaim, patternsIn } from '../claim/claim.ts';
import { stretchesOf } from '../claim/during.ts';
import { eventFit, type HeldEvent, isEnd, tickOf } from '../claim/event.ts';
import { makeEventIndex } from '../claim/event-index.ts';
import type { JudgedEntry } from '../claim/pattern.ts';
import { everything, type Window, within } from '../claim/window.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';

/**
 * The ids of the entries that are accounted for: wanted by a claim that was judged, whether or not it
 * held; answered by a counted plan; or looked at by the test.
 */
export function accountedIn(record: LedgerRecord): ReadonlySet<number> {
  const { entries, lookedAt, judged, members } = record;
  const accounted = new Set(lookedAt);
  for (const member of members as readonly Member<HeldPlan>[]) {
    for (const { counted, answered } of member.plans)
      if (counted !== undefined) for (const { id } of answered) accounted.add(id);
  }
  const wants = judged.flatMap(({ claim, upTo }) =>
    wantsOf(claim as HeldClaim, entries, { ...everything, before: upTo + 1 }),
  );
  const candidates = makeEventIndex(wants.map(({ event }) => event));
  for (const entry of entries) {
    if (accounted.has(entry.id)) continue;
    const isWanted = candidates(entry).some((at) => {
      const { event, window } = wants[at] as Want;
      return within(window, tickOf(event, entry)) && eventFit(event, entry) === 'fits';
    });
    if (isWanted) accounted.add(entry.id);
  }
  return accounted;
}

/** The same, worked out when it is first asked for: all who ask at close get the same. */
export type Accounted = () => ReadonlySet<number>;

export function accountedOnce(record: LedgerRecord): Accounted {
  let known: ReadonlySet<number> | undefined;
  return () => {
    known ??= accountedIn(record);
    return known;
  };
}

/** A pattern whose entries a claim wants, in a part of the record. */
interface Want {
  readonly event: HeldEvent;
  readonly window: Window;
}

function wantsOf(
  claim: HeldClaim,
  entries: readonly JudgedEntry[],
  window: Window,
): readonly Want[] {
  if (claim.claim !== 'during') return wantedBy(claim).map((event) => ({ event, window }));
  if (wantedBy(claim).length === 0) return [];
  return stretchesOf(claim, entries, window).flatMap((stretch) =>
    wantsOf(claim.inner, entries, stretch),
  );
}

/** The patterns whose entries a claim wants: `never` wants none. */
export function wantedBy(claim: HeldClaim): readonly HeldEvent[] {
  // A call that was unfinished when it was claimed to be may have ended since.
  return wantedAsWritten(claim).map((event) =>
    isEnd(event) && event.of === 'unfinished' ? event.calls : event,
  );
}

/** The patterns of calls that a claim wants to be unfinished. */
export function wantedUnfinished(claim: HeldClaim): readonly HeldEvent[] {
  return wantedAsWritten(claim).filter(({ of }) => of === 'unfinished');
}

function wantedAsWritten(claim: HeldClaim): readonly HeldEvent[] {
  if (claim.claim === 'during') return wantedAsWritten(claim.inner);
  const wantsNone =
    (claim.claim === 'count' || claim.claim === 'inFlight') && claim.range.most === 0;
  return wantsNone ? [] : patternsIn(claim);
}
