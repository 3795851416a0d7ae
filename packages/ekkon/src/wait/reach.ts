import { partsOf } from '../claim/kinds.ts';
import { shortValue } from '../notation/value.ts';
import type { Claim } from '../record/claim-type.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { printsAs } from '../value/prints-as.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { asClaim } from './as-claim.ts';
import { waitForClaim } from './claim-wait.ts';
import { isDuration } from './is-duration.ts';
import { noteWait } from './waits.ts';

/** How long `reach` waits unless told otherwise, in milliseconds. */
const usualWithin = 1_000;

/**
 * Waits until a claim holds. Each relevant call re-checks it; nothing polls. The promise settles as soon as the claim
 * holds, and rejects as soon as no later call can make it hold.
 *
 * A claim with an upper bound is checked until the ledger is closed. A claim that holds only because its events have
 * not occurred is not reached.
 *
 * @param options `within`: how long to wait, in milliseconds (default 1000); the ledger's clock tells it. `while`:
 * the work that should make the claim hold. If it rejects, so does the wait, with the same error; if it ends and the
 * claim does not hold, the wait fails at once
 * @returns a promise that rejects with a `ClaimError` if the claim was not reached: the report of `check`, with the
 * pending calls, and for how long they have been pending. It rejects with a `TypeError` for what is not a claim, and
 * for a claim that can only break.
 * @example
 * void night.run(targets);
 * await reach(once(call(dome.close)), { within: 200 });
 * await reach(once(call(dome.close)), { while: night.run(targets) });
 * @see stays for claims that hold already and must go on holding
 */
export function reach(
  claim: Claim,
  options: { readonly within?: number; readonly while?: PromiseLike<unknown> } = {},
): Promise<void> {
  try {
    const held = asClaim(claim, reach);
    const { journal } = held;
    readOptions(options, ['within', 'while'], reach);
    const { within = usualWithin, while: work } = options;
    if (!isDuration(within)) {
      refuse(
        `reach: within must be a number of milliseconds, 0 or more, not ${shortValue(within)}. Write reach(claim, { within: 500 }).`,
        reach,
      );
    }
    if (work !== undefined && typeof work?.then !== 'function') {
      refuse(
        `reach: while must be the promise of the work that should make the claim hold, not ${shortValue(work)}. Write reach(claim, { while: run() }).`,
        reach,
      );
    }
    refuseClosed(journal, 'reach()', reach);
    if (!partsOf(held).canComeTrue(held)) {
      refuse(
        `reach() was given \`${held[printsAs]}\`, which no call can make true: it can only break. Write await stays(claim, { for: 50 }) for a claim that must go on holding, or check(claim).`,
        reach,
      );
    }
    const wait = waitForClaim('reach', held, journal, { ms: within, work }, reach);
    noteWait(journal, wait);
    return wait.promise as Promise<unknown> as Promise<void>;
  } catch (error) {
    return Promise.reject(error);
  }
}
