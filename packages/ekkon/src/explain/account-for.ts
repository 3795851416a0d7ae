import type { HeldClaim } from '../claim/claim.ts';
import { stretchesOf } from '../claim/during.ts';
import { eventFit, type HeldEvent, tickOf } from '../claim/event.ts';
import { makeEventIndex } from '../claim/event-index.ts';
import { eventsIn } from '../claim/order/sequence.ts';
import { within } from '../claim/window.ts';
import type { View } from './view.ts';

/** Notes in the record which entries a claim wants, whether or not it holds. */
export function accountFor(claim: HeldClaim, view: View): void {
  const { record, window } = view;
  if (claim.claim === 'during') {
    for (const stretch of stretchesOf(claim, record.entries, window))
      accountFor(claim.inner, { ...view, window: stretch });
    return;
  }
  const wanted = patternsIn(claim);
  if (wanted.length === 0) return;
  const candidates = makeEventIndex(wanted);
  for (const entry of record.entries) {
    if (record.accounted.has(entry.id)) continue;
    const isWanted = candidates(entry).some((at) => {
      const event = wanted[at] as HeldEvent;
      return eventFit(event, entry) === 'fits' && within(window, tickOf(event, entry));
    });
    if (isWanted) record.accounted.add(entry.id);
  }
}

/** The patterns whose entries a claim wants: `never` wants none. */
export function patternsIn(claim: HeldClaim): readonly HeldEvent[] {
  switch (claim.claim) {
    case 'count':
      return claim.range.most === 0 ? [] : [claim.held];
    case 'order':
      return eventsIn(claim.tree);
    case 'onlyAfter':
    case 'leadsTo':
      return [claim.needing, claim.needed];
    case 'inFlight':
      return claim.range.most === 0 ? [] : [claim.calls];
    case 'during':
      return patternsIn(claim.inner);
    case 'conforms':
    case 'nothingElse':
      return [];
  }
}
