import { recordOf } from '../claim/claim.ts';
import type { Claim } from '../claim/count.ts';
import type { Verdict } from '../explain/finding.ts';
import { refuse } from '../record/refuse.ts';
import { ClaimError } from './claim-error.ts';
import { readClaim, verdictOn } from './verdict.ts';

/**
 * Judges claims against the record they speak of, all of them, and throws once for all that do not hold.
 *
 * @throws ClaimError where a claim does not hold; it carries the verdict, and its stack begins at the
 * line that called `check`
 * @throws TypeError where there is no claim, where something else than a claim is among them, or where
 * they speak of two ledgers
 * @example
 * check(once(call(dome.open)), once(call(dome.close)), never(call(alarm.sound)));
 */
export function check(claim: Claim, ...more: Claim[]): void;
export function check(claims: readonly Claim[]): void;
export function check(...given: unknown[]): void {
  const [first] = given;
  const claims = (given.length === 1 && Array.isArray(first) ? first : given).map((each) =>
    readClaim(each, check),
  );
  const [record, other] = new Set(claims.map(recordOf));
  if (record === undefined) {
    refuse(
      'check() was given no claim, so that it would prove nothing. Write check(once(call(dome.open))).',
      check,
    );
  }
  if (other !== undefined) {
    refuse(
      `check() was given claims on two ledgers, "${record.name}" and "${other.name}". Check each ledger's claims in a call of its own.`,
      check,
    );
  }
  const verdict = verdictOn(claims, record);
  if (verdict.holds) return;
  record.failed = true;
  throw claimError(verdict);
}

/** The error for a verdict, its stack cut so that a runner shows the test's own line. */
function claimError(verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  Error.captureStackTrace?.(error, check);
  return error;
}
