import type { HeldClaim } from '../claim/claim.ts';
import { stretchesOf } from '../claim/during.ts';
import { eventFit, type HeldEvent, memberOf, tickOf } from '../claim/event.ts';
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
  const byLabel = new Map<string, HeldEvent[]>();
  for (const event of wanted) {
    const { label } = memberOf(event);
    byLabel.set(label, [...(byLabel.get(label) ?? []), event]);
  }
  for (const entry of record.entries) {
    if (record.accounted.has(entry.id)) continue;
    if (
      byLabel
        .get(entry.label)
        ?.some((event) => eventFit(event, entry) === 'fits' && within(window, tickOf(event, entry)))
    ) {
      record.accounted.add(entry.id);
    }
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
