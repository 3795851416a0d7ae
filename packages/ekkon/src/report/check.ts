import { claimOf, type HeldClaim, recordOf } from '../claim/claim.ts';
import type { Claim } from '../claim/count.ts';
import { eventOf, memberOf } from '../claim/event.ts';
import { everything } from '../claim/window.ts';
import { accountFor } from '../explain/account-for.ts';
import type { Finding, Verdict } from '../explain/finding.ts';
import { judge, vacuity } from '../explain/judge.ts';
import { shortValue } from '../notation/value.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { ClaimError } from './claim-error.ts';
import { messageOf } from './message.ts';

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
  const claims = (given.length === 1 && Array.isArray(first) ? first : given).map(asClaim);
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

function asClaim(value: unknown): HeldClaim {
  const claim = claimOf(value);
  if (claim !== undefined) return claim;
  const pattern = eventOf(value);
  if (pattern !== undefined) {
    const written = pattern[printsAs];
    refuse(
      `check() was given the bare pattern \`${written}\`, which claims nothing. Say how often: once(call(${memberOf(pattern).label}…)), never(…) or times('1..*', …).`,
      check,
    );
  }
  refuse(
    `check() was given ${shortValue(value)}, which is no claim. Write check(once(call(dome.open))).`,
    check,
  );
}

/** Judges claims of one ledger, and keeps note in it that they were judged. */
function verdictOn(claims: readonly HeldClaim[], record: LedgerRecord): Verdict {
  const findings: Finding[] = [];
  // What is accounted for is known once the others are judged.
  const isLast = (claim: HeldClaim) => claim.claim === 'nothingElse';
  const inOrder = [...claims.filter((claim) => !isLast(claim)), ...claims.filter(isLast)];
  const view = { record, window: everything, claims };
  for (const claim of inOrder) {
    accountFor(claim, view);
    const diagnosis = judge(claim, view) ?? vacuity(claim, view);
    record.judged.push({ notation: claim.notation, holds: diagnosis === undefined });
    if (diagnosis !== undefined) findings.push({ ...diagnosis, message: messageOf(diagnosis) });
  }
  const holds = findings.length === 0;
  return { holds, ledger: record.name, closing: false, claims: claims.length, findings };
}

/** The error for a verdict, its stack cut so that a runner shows the test's own line. */
function claimError(verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  Error.captureStackTrace?.(error, check);
  return error;
}
