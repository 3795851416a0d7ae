import { shortValue } from '../notation/value.ts';
import type { Claim } from '../record/claim-type.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { asClaim } from './as-claim.ts';
import { waitForClaim } from './claim-wait.ts';
import { isDuration } from './is-duration.ts';
import { noteWait } from './waits.ts';

/**
 * Waits for a time in which a claim must hold, and rejects as soon as it breaks.
 *
 * @param options `for`: how long it must hold from now on, in milliseconds of the ledger's clock
 * @returns a promise that fulfils when the time is over, and rejects with a `ClaimError` if the claim
 * does not hold now or breaks meanwhile; with a `TypeError` for what is not a claim or not a time
 * @example
 * await stays(never(call(dome.open)), { for: 50 });
 * @see reach
 */
export function stays(claim: Claim, options: { readonly for: number }): Promise<void> {
  try {
    const held = asClaim(claim, stays);
    const { journal } = held;
    readOptions(options, ['for'], stays);
    const time: unknown = options?.for;
    if (!isDuration(time) || time === Number.POSITIVE_INFINITY) {
      refuse(
        `stays: for must be a number of milliseconds, 0 or more, not ${shortValue(time)}. Write stays(claim, { for: 50 }).`,
        stays,
      );
    }
    refuseClosed(journal, 'stays()', stays);
    const wait = waitForClaim('stays', held, journal, { ms: time }, stays);
    noteWait(journal, wait);
    return wait.promise as Promise<unknown> as Promise<void>;
  } catch (error) {
    return Promise.reject(error);
  }
}
