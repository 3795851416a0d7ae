import { recordOf } from '../claim/claim.ts';
import type { Claim } from '../claim/count.ts';
import { shortValue } from '../notation/value.ts';
import { refuse } from '../record/refuse.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { readClaim } from '../report/verdict.ts';
import { waitForClaim } from './claim-wait.ts';
import { isDuration } from './is-duration.ts';

/**
 * Waits while a claim holds, and rejects as soon as it breaks.
 *
 * @param options `for`: how long it is to hold from now on, in milliseconds; the ledger's clock tells it
 * @returns a promise that fulfils when the time is over, and rejects with a `ClaimError` where the claim
 * does not hold now or breaks meanwhile; with a `TypeError` for what is no claim or no time
 * @example
 * await stays(never(call(dome.open)), { for: 50 });
 * @see reach
 */
export function stays(claim: Claim, options: { readonly for: number }): Promise<void> {
  try {
    const held = readClaim(claim, stays);
    const record = recordOf(held);
    const time: unknown = options?.for;
    if (!isDuration(time) || time === Number.POSITIVE_INFINITY) {
      refuse(
        `stays: for is a number of milliseconds from 0 on, and was given ${shortValue(time)}. Write stays(claim, { for: 50 }).`,
        stays,
      );
    }
    refuseClosed(record, 'stays()', stays);
    const wait = waitForClaim('stays', held, record, time, stays);
    record.waits.push(wait);
    return wait.promise as Promise<unknown> as Promise<void>;
  } catch (error) {
    return Promise.reject(error);
  }
}
