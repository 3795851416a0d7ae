import { recordOf } from '../claim/claim.ts';
import type { Claim } from '../claim/count.ts';
import { canComeTrue } from '../claim/standing/follow-claim.ts';
import { shortValue } from '../notation/value.ts';
import { refuse } from '../record/refuse.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { readClaim } from '../report/verdict.ts';
import { waitForClaim } from './claim-wait.ts';
import { isDuration } from './is-duration.ts';

/** How long `reach` waits unless told otherwise, in milliseconds. */
const usualWithin = 1_000;

/**
 * Waits until a claim holds. It is judged as calls are recorded, not from time to time: the promise
 * settles as soon as the claim holds, and rejects as soon as nothing to come can make it hold.
 *
 * A claim with an upper bound goes on being judged until the ledger is closed. A claim that holds for no
 * reason, since what it speaks of has not occurred, is not reached by that.
 *
 * @param options `within`: how long to wait, in milliseconds (default 1000); the ledger's clock tells it
 * @returns a promise that rejects with a `ClaimError` where the claim was not reached: the report of
 * `check`, with what was still pending and for how long. It rejects with a `TypeError` for what is no
 * claim, and for a claim that can only break.
 * @example
 * void night.run(targets);
 * await reach(once(call(dome.close)), { within: 200 });
 * @see stays for claims that hold already and are to go on holding
 */
export function reach(claim: Claim, options: { readonly within?: number } = {}): Promise<void> {
  try {
    const held = readClaim(claim, reach);
    const record = recordOf(held);
    const { within = usualWithin } = options ?? {};
    if (!isDuration(within)) {
      refuse(
        `reach: within is a number of milliseconds from 0 on, and was given ${shortValue(within)}. Write reach(claim, { within: 500 }).`,
        reach,
      );
    }
    refuseClosed(record, 'reach()', reach);
    if (!canComeTrue(held)) {
      refuse(
        `reach() was given \`${held.notation}\`, which no call can make true: it can only break. Write await stays(claim, { for: 50 }) for what is to go on holding, or check(claim).`,
        reach,
      );
    }
    const wait = waitForClaim('reach', held, record, within, reach);
    record.waits.push(wait);
    return wait.promise as Promise<unknown> as Promise<void>;
  } catch (error) {
    return Promise.reject(error);
  }
}
