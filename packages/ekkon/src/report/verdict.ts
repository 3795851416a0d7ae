import { claimOf, type HeldClaim, recordOf } from '../claim/claim.ts';
import { eventOf, memberOf } from '../claim/event.ts';
import { everything } from '../claim/window.ts';
import type { Diagnosis, Finding, Verdict } from '../explain/finding.ts';
import { judge, vacuity } from '../explain/judge.ts';
import { levelFor } from '../explain/rule-level.ts';
import { shortValue } from '../notation/value.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, siteOf } from '../record/written.ts';
import { messageOf } from './message.ts';

type Below = (...args: never[]) => unknown;

/**
 * The claim behind its public type; it is no longer one that was written and not judged.
 *
 * @throws TypeError where it is none, named after the public function it was given to
 */
export function readClaim(value: unknown, below: Below): HeldClaim {
  const said = `${below.name}()`;
  const claim = claimOf(value);
  if (claim !== undefined) {
    noteUsed(recordOf(claim), claim);
    return claim;
  }
  const pattern = eventOf(value);
  if (pattern !== undefined) {
    const written = pattern[printsAs];
    refuse(
      `${said} was given the bare pattern \`${written}\`, which claims nothing. Say how often: once(call(${memberOf(pattern).label}…)), never(…) or times('1..*', …).`,
      below,
    );
  }
  refuse(
    `${said} was given ${shortValue(value)}, which is no claim. Write ${below.name}(once(call(dome.open))).`,
    below,
  );
}

/** Judges claims of one ledger, and keeps note in it that they were judged. */
export function verdictOn(claims: readonly HeldClaim[], record: LedgerRecord): Verdict {
  const findings = judgeClaims(claims, record).map(asFinding);
  const holds = findings.length === 0;
  return { holds, ledger: record.name, closing: false, claims: claims.length, findings };
}

/** Why claims of one ledger do not hold; what is accounted for is known once the others are judged. */
export function judgeClaims(
  claims: readonly HeldClaim[],
  record: LedgerRecord,
): readonly Diagnosis[] {
  const isLast = (claim: HeldClaim) => claim.claim === 'nothingElse';
  const inOrder = [...claims.filter((claim) => !isLast(claim)), ...claims.filter(isLast)];
  return inOrder.flatMap((claim) => judgeOne(claim, claims, record) ?? []);
}

function judgeOne(
  claim: HeldClaim,
  claims: readonly HeldClaim[],
  record: LedgerRecord,
): Diagnosis | undefined {
  const view = { record, window: everything, claims };
  const diagnosis = judge(claim, view);
  const vacuous = diagnosis === undefined ? vacuity(claim, view) : undefined;
  const level = vacuous === undefined ? 'allow' : levelFor('vacuousClaim', claim);
  if (level === 'note') record.noted.push(vacuous);
  const found = diagnosis ?? (level === 'fail' ? vacuous : undefined);
  record.judged.push({ claim, holds: found === undefined, upTo: record.tick });
  if (found === undefined) return undefined;
  const claimedAt = siteOf(record, claim);
  return { ...found, at: found.at ?? claimedAt, claimedAt };
}

/** A diagnosis with its sentence. */
export function asFinding(diagnosis: Diagnosis): Finding {
  const since = 'reachedAt' in diagnosis ? 'it was reached, and then: ' : '';
  return { ...diagnosis, message: `${since}${messageOf(diagnosis)}` };
}
