import { type HeldClaim, patternsIn } from '../claim/claim.ts';
import { memberOf } from '../claim/event.ts';
import type { Accounted } from '../explain/accounted.ts';
import { levelFor } from '../explain/rule-level.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { baseName, isOf } from '../record/member.ts';
import { siteOf } from '../record/written.ts';
import { type Broken, brokenAt } from './broken.ts';

/**
 * Claims that nothing happened on a double of which nothing was recorded at all: where no other claim shows
 * that anything was, or where another double of the same name was called, it may never have been handed
 * over. Part of the rule `vacuousClaim`.
 */
export function untouchedDoubles(record: LedgerRecord, accounted: Accounted): readonly Broken[] {
  const idle = record.judged.filter(
    ({ claim, holds }) => holds && holdsOfNothing(claim as HeldClaim),
  );
  if (idle.length === 0) return [];
  const called = new Set(record.entries.map(({ label }) => label));
  const told = new Set<string>();
  return idle.flatMap(({ claim: given }) => {
    const claim = given as HeldClaim;
    const [double] = patternsIn(claim).map((event) => memberOf(event).double);
    if (double === undefined || told.has(double) || isCalled(double, called)) return [];
    told.add(double);
    const alike = namesakes(double, called);
    if (alike.length === 0 && accounted().size > 0) return [];
    const at = siteOf(record, claim);
    return brokenAt(levelFor('vacuousClaim', claim), () => ({
      code: 'vacuousClaim',
      claim: claim.notation,
      culprits: record.entries.filter(({ label }) => alike.includes(label)).map(({ id }) => id),
      at,
      claimedAt: at,
      never: double,
      untouched: { double, alike },
    }));
  });
}

/** Whether a claim on one pattern holds where there is nothing. */
function holdsOfNothing(claim: HeldClaim): boolean {
  return (claim.claim === 'count' || claim.claim === 'inFlight') && claim.range.least === 0;
}

function isCalled(double: string, called: ReadonlySet<string>): boolean {
  return [...called].some((label) => isOf(label, double));
}

/** The labels called on other doubles that were given the same name. */
function namesakes(double: string, called: ReadonlySet<string>): readonly string[] {
  const name = baseName(double);
  return [...called].filter((label) => !isOf(label, double) && isOf(baseName(label), name));
}
