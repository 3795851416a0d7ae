import { isOwn } from '../record/prints-as.ts';
import type { HeldConforms } from './conforms.ts';
import type { HeldCountClaim } from './count.ts';

/** A claim behind its public type. */
export type HeldClaim = HeldCountClaim | HeldConforms;

/** The claim behind its public type; `undefined` where the value is none. */
export function claimOf(value: unknown): HeldClaim | undefined {
  return isOwn(value) && 'claim' in value ? (value as unknown as HeldClaim) : undefined;
}

/** The count claim behind its public type; `undefined` where the value is none. */
export function countClaimOf(value: unknown): HeldCountClaim | undefined {
  const claim = claimOf(value);
  return claim?.claim === 'count' ? claim : undefined;
}
