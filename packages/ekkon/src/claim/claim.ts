import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { isOwn, printsAs } from '../record/prints-as.ts';
import type { HeldConforms } from './conforms.ts';
import type { HeldCountClaim } from './count.ts';
import type { HeldDuring } from './during.ts';
import { type HeldEvent, memberOf } from './event.ts';
import type { HeldExactItems } from './exact-items.ts';
import type { HeldInFlight } from './in-flight.ts';
import type { HeldNothingElse } from './nothing-else.ts';
import { eventsIn } from './order/sequence.ts';
import type { HeldOrder } from './order/steps.ts';
import type { HeldPrecedence } from './precedence.ts';

/** A claim behind its public type. */
export type HeldClaim =
  | HeldCountClaim
  | HeldConforms
  | HeldOrder
  | HeldPrecedence
  | HeldInFlight
  | HeldExactItems
  | HeldDuring
  | HeldNothingElse;

/** The claim behind its public type; `undefined` where the value is none. */
export function claimOf(value: unknown): HeldClaim | undefined {
  return isOwn(value) && 'claim' in value ? (value as unknown as HeldClaim) : undefined;
}

/** The count claim behind its public type; `undefined` where the value is none. */
export function countClaimOf(value: unknown): HeldCountClaim | undefined {
  const claim = claimOf(value);
  return claim?.claim === 'count' ? claim : undefined;
}

/** The record that a claim speaks of. */
export function recordOf(claim: HeldClaim): LedgerRecord {
  return claim.claim === 'count' ? memberOf(claim.held).record : claim.record;
}

/** Every pattern that a claim speaks of; those that bound a stretch are not among them. */
export function patternsIn(claim: HeldClaim): readonly HeldEvent[] {
  switch (claim.claim) {
    case 'count':
      return [claim.held];
    case 'order':
      return eventsIn(claim.tree);
    case 'onlyAfter':
    case 'leadsTo':
      return [claim.needing, claim.needed];
    case 'inFlight':
      return [claim.calls];
    case 'exactItems':
      return streamPatterns(claim.member);
    case 'during':
      return patternsIn(claim.inner);
    case 'conforms':
    case 'nothingElse':
      return [];
  }
}

/** The patterns of all that a stream can do. */
function streamPatterns(member: Member): readonly HeldEvent[] {
  return (['item', 'end', 'failure'] as const).map((of) => ({
    of,
    member,
    claimed: undefined,
    [printsAs]: member.label,
  }));
}
