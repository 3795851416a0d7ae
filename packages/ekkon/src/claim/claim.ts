import type { LedgerRecord } from '../record/ledger-record.ts';
import { isOwn } from '../record/prints-as.ts';
import type { HeldConforms } from './conforms.ts';
import type { HeldCountClaim } from './count.ts';
import type { HeldDuring } from './during.ts';
import { memberOf } from './event.ts';
import type { HeldInFlight } from './in-flight.ts';
import type { HeldNothingElse } from './nothing-else.ts';
import type { HeldOrder } from './order/steps.ts';
import type { HeldPrecedence } from './precedence.ts';

/** A claim behind its public type. */
export type HeldClaim =
  | HeldCountClaim
  | HeldConforms
  | HeldOrder
  | HeldPrecedence
  | HeldInFlight
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
