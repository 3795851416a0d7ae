import { causesOf } from '../alter/causes.ts';
import { bothNames } from '../pattern/as-pattern.ts';
import { captureSite } from '../record/call-site.ts';
import type { Claim } from '../record/claim-type.ts';
import { beginAtClaim, ClaimError } from '../report/claim-error.ts';
import { makeVerdict } from '../report/verdict.ts';
import { evidenceOn, judgeAndNote, noteHolding } from '../rule/at-check.ts';
import { noteFailedCheck } from '../rule/judgements.ts';
import { noteCheckOver } from '../rule/last-pass-on.ts';
import { beginAt } from '../value/call-stack.ts';
import { refuse } from '../value/refuse.ts';
import { asClaim } from './as-claim.ts';

/** A list that is spread may be empty, a list that is written may not. */
type AtLeastOne<C extends readonly Claim[]> = C extends readonly [] ? readonly [Claim] : C;

/**
 * Judges claims against their record, all of them, and throws once for all that do not hold.
 *
 * @throws ClaimError if a claim does not hold; it carries the verdict, and its stack begins at the
 * line that called `check`
 * @throws TypeError if there is no claim, if something other than a claim is among them, or if they are on two
 * ledgers
 * @example
 * check(once(call(dome.open)), once(call(dome.close)), never(call(alarm.sound)));
 */
export function check(claim: Claim, ...more: Claim[]): void;
export function check<C extends readonly Claim[]>(...claims: AtLeastOne<C>): void;
export function check(claims: readonly Claim[]): void;
export function check(...given: unknown[]): void {
  const [first] = given;
  const claims = (given.length === 1 && Array.isArray(first) ? first : given).map((each) =>
    asClaim(each, check),
  );
  const [journal, other] = new Set(claims.map((claim) => claim.journal));
  if (journal === undefined) {
    refuse(
      'check() was given no claim, so it would verify nothing. Write check(once(call(dome.open))).',
      check,
    );
  }
  if (other !== undefined) {
    refuse(
      `check() was given claims on two ledgers, ${bothNames(journal, other)}. Check each ledger's claims in a call of its own.`,
      check,
    );
  }
  const found = judgeAndNote(claims, journal);
  const captured = captureSite(check);
  if (found.length === 0) {
    noteHolding(claims, journal, captured);
    noteCheckOver(journal);
    return;
  }
  const causes = causesOf(claims, found, evidenceOn(journal));
  const told = { claims: claims.length, closing: false };
  const verdict = makeVerdict(journal, found, told, causes);
  noteCheckOver(journal);
  const error = new ClaimError(verdict);
  beginAt(error, check);
  beginAtClaim(error);
  ClaimError.onRead(error, noteFailedCheck(journal, { claims, verdict, captured }));
  throw error;
}
